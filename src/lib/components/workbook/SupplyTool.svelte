<script lang="ts">
	import {
		ADVERTISED_WORDS,
		advertisedCurrent,
		fixedContract,
		FIXED_LEVELS
	} from '$lib/core/charging/supply-contract';
	import NumberField from './NumberField.svelte';
	import Tool from './Tool.svelte';

	let line = $state(1.68);
	let marked = $state(false);
	const advertised = $derived(advertisedCurrent(line));
</script>

<Tool
	rests={[
		'Thresholds at the sink’s configuration line (5.1 kΩ to ground): USB Type-C Cable and Connector Specification, from memory. Between the windows the thresholds decide.',
		'Levels and currents: USB Power Delivery, from memory. Over 3 A, and over 20 V, need a cable that says so itself. A source holds its voltage within 5 %.',
		'A supply’s label may promise levels that a device never asks for: what was agreed shows on an inline meter.'
	]}
>
	{#snippet fields()}
		<NumberField label="Voltage on the configuration line" unit="V" bind:value={line} min={0} max={6} />
		<label class="flex items-center gap-1.5"
			><input type="checkbox" bind:checked={marked} /> the cable is marked for 5 A</label
		>
	{/snippet}
	{#snippet result()}
		<p class="text-lg font-semibold">
			<span class="figure">{line.toFixed(2)} V</span>: {ADVERTISED_WORDS[advertised]}
		</p>
		<table class="ledger mt-2 max-w-lg">
			<thead
				><tr
					><th class="num">Level</th><th class="num">Most current</th><th class="num">Power</th><th
						class="num">Must hold</th
					></tr
				></thead
			>
			<tbody>
				{#each FIXED_LEVELS.map( (level) => fixedContract(level, marked) ) as { level, amps, watts, low, high } (level)}
					<tr>
						<td class="num">{level} V</td>
						<td class="num">{amps === 0 ? 'needs a marked cable' : `${amps} A`}</td>
						<td class="num">{amps === 0 ? '–' : `${watts} W`}</td>
						<td class="num">{low.toFixed(2)}–{high.toFixed(2)} V</td>
					</tr>
				{/each}
			</tbody>
		</table>
		<p class="mt-2 text-sm">
			One line broken: a two-ended cable works one way round only. Both broken: a two-ended cable gives no
			voltage; an old one-ended cable still puts 5 V on VBUS.
		</p>
	{/snippet}
</Tool>
