<script lang="ts">
	import { codeWords } from '$lib/core/units/code';
	import { batteryFinding, judgeCurrent } from '$lib/core/charging/judge-current';
	import { amperes } from '$lib/core/charging/judge-plug-in';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import { nounFor } from '$lib/core/units/noun';
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
	const found = $derived(judgeCurrent(plug, ticket));
	const draws = $derived([...(plug.healthy ? [plug.healthy] : []), ...(plug.charges ?? [])]);
	const learnt = $derived(
		plug.from === undefined
			? ''
			: ` (from ${plug.from} closed ${nounFor(plug.from, 'ticket')}; the model has none)`
	);
</script>

<p class="mb-2 text-ink-soft">
	Plug in both ways round and read at several moments. Measure the battery too: a current is judged together
	with it. Healthy:
	{#each draws as { volts, amps }, i (i)}{i > 0 ? ', ' : ''}<span class="figure"
			>{amperes(amps)} at {volts} V</span
		>{:else}<span class="figure">0.50 A at 5 V</span>, a usual value; the model has none{/each}{learnt}.
</p>
{#each found.cautions as { code, text } (code)}
	<p
		class="mb-2 border-l-[5px] bg-paper-2 px-3 py-2 font-semibold {code === 'do-not-charge'
			? 'border-short text-short'
			: 'border-low text-low'}"
	>
		▲ The battery: {found.battery?.text}. {text}
	</p>
{/each}
{#if open}<PlugEntry {bench} />{/if}
{#each found.together as verdict (verdict.kind + verdict.reason)}
	<div class="mt-2 border-l-[5px] border-high bg-paper-2 px-3 py-1.5"><PlugVerdictLine {verdict} /></div>
{/each}
{#if ticket.meter.length + ticket.battery.length === 0}
	<p class="mt-2 text-ink-soft">Nothing measured yet.</p>
{:else}
	<div class="overflow-x-auto">
		<table class="ledger mt-2">
			<thead>
				<tr
					><th>When</th><th class="num">Side</th><th class="num">Volts</th><th class="num">Current</th><th
						class="num">After</th
					><th>Verdict</th><th><span class="sr-only">Do</span></th></tr
				>
			</thead>
			<tbody class="align-top">
				{#each ticket.meter as reading, i (i)}
					<tr>
						<td class="text-sm"
							>{codeWords(reading.stage)}{reading.at ? `, ${format.weekdayTime(reading.at)}` : ''}</td
						>
						<td class="num">{reading.orientation?.toUpperCase() ?? ''}</td>
						<td class="num">{reading.volts.toFixed(2)}</td>
						<td class="num">{amperes(reading.amps)}</td>
						<td class="num">{reading.seconds === undefined ? '' : `${reading.seconds} s`}</td>
						<td
							>{#if found.looks[i]}<PlugVerdictLine verdict={found.looks[i]} />{/if}</td
						>
						<td class="text-right"><StrikeOut list="meter" index={i} what="reading {i + 1}" /></td>
					</tr>
				{/each}
				{#each ticket.battery as reading, i (i)}
					<tr>
						<td class="text-sm"
							>{codeWords(reading.stage)}{reading.at ? `, ${format.weekdayTime(reading.at)}` : ''}</td
						>
						<td></td>
						<td class="num">{reading.volts.toFixed(2)}</td>
						<td class="num"></td>
						<td class="num"></td>
						<td>battery {batteryFinding(reading.volts, plug.battery).text}</td>
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
			<span class="text-sm text-ink-soft">{trace.phases.map(({ kind }) => codeWords(kind)).join(' → ')}</span>
			<StrikeOut list="traces" index={i} what="log {trace.name}" />
		</p>
	{/each}
	<MeterLog
		healthyAmps={plug.healthy?.amps ?? null}
		onkeep={desk.may('keep-trace')
			? (trace) =>
					desk.send({
						verb: 'keep-trace',
						stage: desk.stage,
						trace
					})
			: null}
	/>
</section>
