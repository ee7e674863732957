<script lang="ts">
	import { CELL_STATE_WORDS, packState } from '$lib/core/charging/cell-limits';
	import { wakePlan } from '$lib/core/charging/flat-pack';
	import BatteryFields from './BatteryFields.svelte';
	import NumberField from './NumberField.svelte';
	import Tool from './Tool.svelte';

	let chemistry = $state('li-ion');
	let cells = $state(1);
	let capacity = $state(2500);
	/** nothing is said before it was measured */
	let pack = $state<number | null>(null);
	let celsius = $state<number | null>(null);
	let seen = $state({ swollen: false, punctured: false, hot: false, wet: false, longUnused: false });
	const SEEN = {
		swollen: 'swollen',
		punctured: 'punctured',
		hot: 'hot',
		wet: 'wet',
		longUnused: 'unused for a long time'
	};
	const found = $derived(pack === null ? null : packState(pack, cells, chemistry));
	const plan = $derived(
		pack === null
			? null
			: wakePlan({
					packVolts: pack,
					cells,
					chemistry,
					capacityMah: capacity,
					celsius: celsius ?? undefined,
					seen
				})
	);
	const LOOK = {
		no: { shape: '▼', tone: 'text-short', words: 'Do not try to wake it' },
		wait: { shape: '◐', tone: 'text-low', words: 'Wait for the device’s own precharge' },
		try: { shape: '●', tone: 'text-agrees', words: 'You can try, within these limits' },
		'not-needed': { shape: '●', tone: 'text-agrees', words: 'No waking needed' }
	};
</script>

<Tool
	rests={[
		'Waking a cut-off pack: about 3 V a cell at 0.1 A, or C/20 where that is less, for some seconds. Common practice, no source.',
		'Limits of cells: typical values of the trade, no source. Rested volts to charge: from memory, within about 0.05 V a cell.',
		'A voltage that recovers when the load is gone says nothing of capacity.'
	]}
>
	{#snippet fields()}
		<BatteryFields bind:chemistry bind:cells bind:capacity bind:volts={pack} />
		<NumberField label="Cell temperature, if measured" unit="°C" bind:value={celsius} min={-60} max={150} />
		<fieldset>
			<legend class="label">The pack was</legend>
			{#each Object.entries(SEEN) as [key, words] (key)}
				<label class="mr-3 inline-flex items-center gap-1.5"
					><input type="checkbox" bind:checked={seen[key as keyof typeof seen]} /> {words}</label
				>
			{/each}
		</fieldset>
	{/snippet}
	{#snippet result()}
		{#if plan && found}
			{@const look = LOOK[plan.verdict]}
			<p class="text-lg font-semibold {look.tone}">
				<span aria-hidden="true">{look.shape}</span>
				{look.words}
			</p>
			<p>{plan.why}</p>
			{#if plan.supply}
				<p class="mt-1">
					Bench supply: <b class="figure">{plan.supply.volts.toFixed(1)} V</b>, limited to
					<b class="figure">{plan.supply.amps.toFixed(2)} A</b>, for
					<b class="figure">{plan.supply.seconds} s</b>, then measure again.
				</p>
			{/if}
			{#if plan.kick}
				<p class="mt-1">
					Two methods: wait for the device’s own precharge, or raise a large pack with a bench supply while
					you watch it:
					<b class="figure">{plan.kick.volts.toFixed(1)} V</b>, limited to
					<b class="figure">{plan.kick.amps.toFixed(2)} A</b>, until it reads that or
					<b class="figure">{plan.kick.minutes} min</b> are over, within the pack’s own limits; then charge it the
					usual way.
				</p>
			{/if}
			<ul class="mt-2 border-l-[5px] border-short bg-paper-2 px-3 py-1.5">
				{#each plan.cautions as caution (caution)}<li class="font-semibold text-short">▲ {caution}</li>{/each}
			</ul>
			<table class="ledger mt-2 max-w-md">
				<tbody>
					<tr><td>Volts a cell</td><td class="num">{found.cellVolts.toFixed(3)} V</td></tr>
					<tr><td>State</td><td class="text-right">{CELL_STATE_WORDS[found.state]}</td></tr>
					<tr><td>Charge, if rested, about</td><td class="num">{Math.round(found.charge * 100)} %</td></tr>
					<tr><td>Full pack</td><td class="num">{found.fullPackVolts.toFixed(2)} V</td></tr>
					<tr><td>Precharge below</td><td class="num">{(found.limits.precharge * cells).toFixed(2)} V</td></tr
					>
					<tr
						><td>Not charged again below</td><td class="num">{(found.limits.discard * cells).toFixed(2)} V</td
						></tr
					>
				</tbody>
			</table>
		{:else}
			<p class="text-ink-soft">Measure the pack and enter the voltage to see a verdict.</p>
		{/if}
	{/snippet}
</Tool>
