<script lang="ts">
	import {
		BATTERY_WORDS,
		classifyBattery,
		classifyDraw,
		DRAW_WORDS,
		UNSAFE_CELL_VOLTS,
		USUAL_HEALTHY_AMPS
	} from '$lib/core/charging/plug-in-class';
	import { STAGES, type Stage } from '$lib/core/tickets/ticket-record';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	import StrikeOut from './StrikeOut.svelte';

	const desk = useDesk();
	const format = useFormat();
	const ticket = $derived(desk.view.ticket);
	const open = $derived(ticket.closedAt === null);
	const healthy = $derived(desk.view.healthyAmps ?? USUAL_HEALTHY_AMPS);
	let stage = $state<Stage>('diagnosis');
	let orientation = $state<'a' | 'b'>('a');
	let volts = $state('');
	let amps = $state('');
	let seconds = $state('');
	let batteryVolts = $state('');
	let problem = $state('');
	let voltsField = $state<HTMLInputElement>();

	const number = (typed: string) => {
		const text = typed.trim().replace(',', '.');
		return /^\d{1,6}(\.\d{0,4})?$/.test(text) ? Number(text) : null;
	};

	async function plugIn(event: SubmitEvent) {
		event.preventDefault();
		const [v, a] = [number(volts), number(amps)];
		const s = seconds.trim() === '' ? undefined : number(seconds);
		if (v === null) problem = `Volts is “${volts}”; write a number such as 5.08`;
		else if (a === null) problem = `Amperes is “${amps}”; write a number such as 0.06`;
		else if (s === null) problem = `Seconds is “${seconds}”; write a whole number or leave it empty`;
		else {
			problem = '';
			const sent = await desk.send({
				verb: 'plug-in',
				stage,
				orientation,
				volts: v,
				amps: a,
				...(s === undefined ? {} : { seconds: s })
			});
			if (!sent) return;
			amps = seconds = '';
			orientation = orientation === 'a' ? 'b' : 'a';
			voltsField?.select();
			voltsField?.focus();
		}
	}
	async function readBattery(event: SubmitEvent) {
		event.preventDefault();
		const v = number(batteryVolts);
		if (v === null) problem = `Battery is “${batteryVolts}”; write volts such as 3.72`;
		else if (await desk.send({ verb: 'battery', stage, volts: v })) batteryVolts = problem = '';
	}
	const perCell = $derived((ticket.battery.at(-1)?.volts ?? Infinity) / desk.view.batteryCells);
	const unsafe = $derived(perCell < UNSAFE_CELL_VOLTS && perCell > 0.5);
</script>

<p class="mb-2 text-ink-soft">
	Both ways round, at several moments. Judge a current only together with the battery’s voltage: little into
	an empty battery is normal. Healthy here: <span class="figure">{healthy.toFixed(2)} A</span>{desk.view
		.healthyAmps === null
		? ', a usual value; the model names none'
		: ''}.
</p>
{#if unsafe}
	<p class="mb-2 border-l-[5px] border-short bg-paper-2 px-3 py-2 font-semibold text-short">
		▲ Under {UNSAFE_CELL_VOLTS} V per cell: do not charge it. Isolate the battery, take it to a collection point.
		The cell maker’s limits and local codes come first.
	</p>
{/if}
{#if open}
	<form
		onsubmit={plugIn}
		class="flex flex-wrap items-end gap-2 border-l-[5px] border-copper bg-wash px-3 py-2.5"
	>
		<div>
			<label class="label" for="plug-stage">When</label>
			<select id="plug-stage" class="field" bind:value={stage}>
				{#each STAGES as name (name)}<option value={name}>{name.replace('-', ' ')}</option>{/each}
			</select>
		</div>
		<div>
			<label class="label" for="plug-side">Side</label>
			<select id="plug-side" class="field figure" bind:value={orientation}>
				<option value="a">A</option><option value="b">B</option>
			</select>
		</div>
		<div class="w-24">
			<label class="label" for="plug-volts">Volts</label>
			<input
				id="plug-volts"
				class="field figure text-xl"
				inputmode="decimal"
				bind:value={volts}
				bind:this={voltsField}
			/>
		</div>
		<div class="w-24">
			<label class="label" for="plug-amps">Amperes</label>
			<input id="plug-amps" class="field figure text-xl" inputmode="decimal" bind:value={amps} />
		</div>
		<div class="w-24">
			<label class="label" for="plug-seconds">After, s</label>
			<input id="plug-seconds" class="field figure" inputmode="numeric" bind:value={seconds} />
		</div>
		<button class="btn btn-copper">Take down</button>
	</form>
	<form onsubmit={readBattery} class="mt-2 flex items-end gap-2 px-3">
		<div class="w-32">
			<label class="label" for="battery-volts">Battery, volts</label>
			<input id="battery-volts" class="field figure" inputmode="decimal" bind:value={batteryVolts} />
		</div>
		<button class="btn">Take down</button>
	</form>
	<p role="alert" class="mt-1 px-3 text-sm font-semibold text-short">{problem}</p>
{/if}
{#if ticket.meter.length + ticket.battery.length === 0}
	<p class="mt-2 text-ink-soft">Nothing measured yet.</p>
{:else}
	<table class="ledger mt-2">
		<thead>
			<tr
				><th>When</th><th>Side</th><th class="num">Volts</th><th class="num">Amperes</th><th class="num"
					>After</th
				><th>Reads as</th><th><span class="sr-only">Do</span></th></tr
			>
		</thead>
		<tbody>
			{#each ticket.meter as reading, i (i)}
				<tr>
					<td>{reading.stage.replace('-', ' ')}{reading.at ? `, ${format.weekdayTime(reading.at)}` : ''}</td>
					<td class="figure">{reading.orientation?.toUpperCase() ?? ''}</td>
					<td class="num">{reading.volts.toFixed(2)}</td>
					<td class="num">{reading.amps.toFixed(2)}</td>
					<td class="num">{reading.seconds === undefined ? '' : `${reading.seconds} s`}</td>
					<td>{DRAW_WORDS[classifyDraw(reading.amps, healthy)]}</td>
					<td class="text-right"><StrikeOut list="meter" index={i} what="reading {i + 1}" /></td>
				</tr>
			{/each}
			{#each ticket.battery as reading, i (i)}
				<tr>
					<td>{reading.stage.replace('-', ' ')}{reading.at ? `, ${format.weekdayTime(reading.at)}` : ''}</td>
					<td></td>
					<td class="num">{reading.volts.toFixed(2)}</td>
					<td class="num"></td>
					<td class="num"></td>
					<td>battery {BATTERY_WORDS[classifyBattery(reading.volts, desk.view.batteryCells)]}</td>
					<td class="text-right"><StrikeOut list="battery" index={i} what="battery reading {i + 1}" /></td>
				</tr>
			{/each}
		</tbody>
	</table>
{/if}
