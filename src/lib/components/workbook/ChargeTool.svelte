<script lang="ts">
	import { chargePlan, prechargeWait } from '$lib/core/charging/charge-time';
	import { packState } from '$lib/core/charging/cell-limits';
	import { minutesWords, waitWords } from '../ui/wait-words';
	import BatteryFields from './BatteryFields.svelte';
	import NumberField from './NumberField.svelte';
	import Tool from './Tool.svelte';

	let chemistry = $state('li-ion');
	let cells = $state(1);
	let capacity = $state(2500);
	let pack = $state(2.8);
	let plugVolts = $state(5.1);
	let plugAmps = $state(0.07);
	let amps = $state(1);
	const state_ = $derived(packState(pack, cells, chemistry));
	const flat = $derived(state_.state === 'precharge' || state_.state === 'watch');
	const wait = $derived(
		prechargeWait({ capacityMah: capacity, plugVolts, plugAmps: Math.max(0.001, plugAmps), packVolts: pack })
	);
	const plan = $derived(
		chargePlan({ capacityMah: capacity, fromShare: state_.charge, amps: Math.max(0.01, amps), flat })
	);
</script>

<Tool
	rests={[
		'Time = charge / current. An empty pack takes 1 to 5 % of its capacity, usually about 2 %, before its normal current; precharge C/10. Typical of the trade, no source.',
		'Battery current behind the plug: between what goes in (linear charger) and 0.9 times the power over the battery’s voltage (step-down charger). Hence the width.',
		'Constant current up to about 75 % of charge, then an exponential decay to C/20. Typical, no source; a warm or worn battery takes longer.',
		'The cell maker’s data come first.'
	]}
>
	{#snippet fields()}
		<BatteryFields bind:chemistry bind:cells bind:capacity bind:volts={pack} />
		<NumberField label="Volts at the plug" unit="V" bind:value={plugVolts} min={0} max={60} />
		<NumberField label="Drawn now" unit="A" bind:value={plugAmps} min={0} max={20} />
		<NumberField label="Normal current into the battery" unit="A" bind:value={amps} min={0.01} max={50} />
	{/snippet}
	{#snippet result()}
		{#if flat}
			<p class="text-lg font-semibold text-agrees">
				<span aria-hidden="true">◐</span> Normal current in about
				<span class="figure">{waitWords(wait)}</span>
			</p>
		{:else if state_.state === 'discard' || state_.state === 'cut-off' || state_.state === 'over'}
			<p class="text-lg font-semibold text-short">▼ Not to be charged as it is: see Flat pack</p>
		{:else}
			<p class="text-lg font-semibold">
				The battery is at about <span class="figure">{Math.round(state_.charge * 100)} %</span>: no precharge
			</p>
		{/if}
		<table class="ledger mt-2 max-w-md">
			<tbody>
				<tr><td>Volts a cell</td><td class="num">{state_.cellVolts.toFixed(2)} V</td></tr>
				<tr><td>Precharge at C/10</td><td class="num">{minutesWords(plan.prechargeMinutes)}</td></tr>
				<tr><td>Constant current</td><td class="num">{minutesWords(plan.constantMinutes)}</td></tr>
				<tr><td>Constant voltage, to C/20</td><td class="num">{minutesWords(plan.decayMinutes)}</td></tr>
				<tr
					><td class="font-semibold">Whole charge, about</td><td class="num font-semibold"
						>{minutesWords(plan.totalMinutes)}</td
					></tr
				>
			</tbody>
		</table>
	{/snippet}
</Tool>
