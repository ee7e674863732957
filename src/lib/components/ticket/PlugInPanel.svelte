<script lang="ts">
	import { judgePlugIn, judgePlugIns, type PlugContext } from '$lib/core/charging/judge-plug-in';
	import { cellLimits, CELL_STATE_WORDS, packState } from '$lib/core/charging/cell-limits';
	import { batteryVoltsAt } from '$lib/core/tickets/plug-context';
	import { beforeRepair, type Stage } from '$lib/core/tickets/ticket-record';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import MeterLog from '../workbook/MeterLog.svelte';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	import PlugEntry from './PlugEntry.svelte';
	import PlugVerdictLine from './PlugVerdictLine.svelte';
	import StrikeOut from './StrikeOut.svelte';

	let { bench }: { bench: BenchCatalog } = $props();
	const desk = useDesk();
	const format = useFormat();
	const ticket = $derived(desk.ticket);
	const open = $derived(desk.may('plug-in'));
	const plug = $derived(desk.view.plug);
	/** a reading is judged with the battery as it was last measured on the same side of the repair */
	const contextOf = (stage: Stage): PlugContext => ({ ...plug, batteryVolts: batteryVoltsAt(ticket, stage) });
	const together = $derived(
		[true, false].flatMap((before) =>
			judgePlugIns(ticket.meter.filter(({ stage }) => beforeRepair(stage) === before))
		)
	);
	const last = $derived(ticket.battery.at(-1));
	const pack = $derived(
		last ? packState(last.volts, plug.battery?.cells ?? 1, plug.battery?.chemistry) : null
	);
	const discard = $derived(cellLimits(plug.battery?.chemistry).discard);
	const batteryWords = (volts: number) => {
		const { state, cellVolts } = packState(volts, plug.battery?.cells ?? 1, plug.battery?.chemistry);
		return `${cellVolts.toFixed(2)} V a cell, ${CELL_STATE_WORDS[state]}`;
	};
</script>

<p class="mb-2 text-ink-soft">
	Both ways round, at several moments. A current is judged together with the battery: measure it too. Healthy
	here:
	{#if plug.healthy}<span class="figure">{plug.healthy.amps.toFixed(2)} A</span> at
		<span class="figure">{plug.healthy.volts} V</span>.{:else}<span class="figure">0.50 A</span>, a usual
		value; the model names none.{/if}
</p>
{#if pack?.state === 'discard' || pack?.state === 'over'}
	<p class="mb-2 border-l-[5px] border-short bg-paper-2 px-3 py-2 font-semibold text-short">
		▲ {pack.state === 'discard' ? `Under ${discard} V per cell` : 'Over its full voltage'}: do not charge it.
		Isolate the battery, take it to a collection point. The cell maker’s limits and local codes come first.
	</p>
{/if}
{#if open}<PlugEntry {bench} />{/if}
{#each together as verdict (verdict.kind + verdict.reason)}
	<div class="mt-2 border-l-[5px] border-high bg-paper-2 px-3 py-1.5"><PlugVerdictLine {verdict} /></div>
{/each}
{#if ticket.meter.length + ticket.battery.length === 0}
	<p class="mt-2 text-ink-soft">Nothing measured yet.</p>
{:else}
	<div class="overflow-x-auto">
		<table class="ledger mt-2">
			<thead>
				<tr
					><th>When</th><th class="num">Side</th><th class="num">Volts</th><th class="num">Amperes</th><th
						class="num">After</th
					><th>Reads as</th><th><span class="sr-only">Do</span></th></tr
				>
			</thead>
			<tbody class="align-top">
				{#each ticket.meter as reading, i (i)}
					<tr>
						<td class="text-sm"
							>{reading.stage.replace('-', ' ')}{reading.at ? `, ${format.weekdayTime(reading.at)}` : ''}</td
						>
						<td class="num">{reading.orientation?.toUpperCase() ?? ''}</td>
						<td class="num">{reading.volts.toFixed(2)}</td>
						<td class="num">{reading.amps.toFixed(2)}</td>
						<td class="num">{reading.seconds === undefined ? '' : `${reading.seconds} s`}</td>
						<td><PlugVerdictLine verdict={judgePlugIn(reading, contextOf(reading.stage))} /></td>
						<td class="text-right"><StrikeOut list="meter" index={i} what="reading {i + 1}" /></td>
					</tr>
				{/each}
				{#each ticket.battery as reading, i (i)}
					<tr>
						<td class="text-sm"
							>{reading.stage.replace('-', ' ')}{reading.at ? `, ${format.weekdayTime(reading.at)}` : ''}</td
						>
						<td></td>
						<td class="num">{reading.volts.toFixed(2)}</td>
						<td class="num"></td>
						<td class="num"></td>
						<td>battery {batteryWords(reading.volts)}</td>
						<td class="text-right"><StrikeOut list="battery" index={i} what="battery reading {i + 1}" /></td>
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
{/if}
<section class="mt-4" aria-labelledby="ticket-log">
	<h2 id="ticket-log" class="mb-1 text-ink">Meter log</h2>
	{#each ticket.traces as trace, i (i)}
		<p class="border-b border-edge py-1">
			<span class="font-semibold">{trace.name}</span>
			<span class="figure text-sm">{trace.rows}</span> rows,
			<span class="figure text-sm">{trace.charge_mah.toFixed(0)} mAh</span>,
			<span class="figure text-sm">{(trace.energy_mwh / 1000).toFixed(2)} Wh</span>:
			<span class="text-sm text-ink-soft"
				>{trace.phases.map(({ kind }) => kind.replace('-', ' ')).join(' → ')}</span
			>
			<StrikeOut list="traces" index={i} what="log {trace.name}" />
		</p>
	{/each}
	<MeterLog
		healthyAmps={plug.healthy?.amps ?? null}
		onkeep={desk.may('keep-trace')
			? (trace) =>
					desk.send({
						verb: 'keep-trace',
						stage: ticket.attempts.length > 0 ? 'after-repair' : 'diagnosis',
						trace
					})
			: null}
	/>
</section>
