<script lang="ts">
	import Field from '../ui/Field.svelte';
	import { ALLOYS, heatPlan, type BoardMass, type HeatJob } from '$lib/core/charging/solder-alloys';
	import Tool from './Tool.svelte';

	let job = $state<HeatJob>('lift');
	let board = $state('sac305');
	let added = $state('sn42bi58');
	let mass = $state<BoardMass>('thin');
	const alloy = (code: string) => ALLOYS.find((item) => item.code === code) ?? null;
	const plan = $derived(heatPlan(job, alloy(board) ?? ALLOYS[0]!, alloy(added), mass));
	const range = ({ low, high }: { low: number; high: number }, unit: string) => `${low}–${high} ${unit}`;
</script>

<Tool
	rests={[
		'Melting points: alloy tables such as J-STD-006, from memory, within 2 K.',
		'Set points, times and what the board’s copper adds: common practice, no source. Watch the joint, not the number.',
		'Bismuth and lead mixed: the ternary eutectic with tin melts near 96 °C, from memory.'
	]}
>
	{#snippet fields()}
		<Field id="heat-job" label="Job" look="w-auto" bind:value={job} select>
			<option value="lift">lift a port</option><option value="place">place a port</option><option value="wire"
				>solder a wire</option
			>
		</Field>
		<Field id="heat-board" label="Soldered with" bind:value={board} select
			>{#each ALLOYS as { code, label } (code)}<option value={code}>{label}</option>{/each}</Field
		>
		<Field id="heat-added" label="Added" bind:value={added} select>
			<option value="">nothing</option>
			{#each ALLOYS as { code, label } (code)}<option value={code}>{label}</option>{/each}
		</Field>
		<Field id="heat-mass" label="Board" look="w-auto" bind:value={mass} select>
			<option value="thin">thin, little copper</option><option value="usual">usual</option><option
				value="heavy">heavy ground planes</option
			>
		</Field>
	{/snippet}
	{#snippet result()}
		<table class="ledger max-w-md">
			<tbody>
				<tr><td>Preheat from below</td><td class="num">{range(plan.preheat, '°C')}</td></tr>
				<tr
					><td class="font-semibold">{job === 'wire' ? 'Iron' : 'Hot air'}, start at</td><td
						class="num font-semibold">{range(plan.station, '°C')}</td
					></tr
				>
				<tr><td>The joint itself reaches</td><td class="num">{plan.joint} °C</td></tr>
				<tr><td>Takes about</td><td class="num">{range(plan.minutes, 'min')}</td></tr>
				<tr><td>Cools in</td><td class="num">{range(plan.coolMinutes, 'min')}</td></tr>
			</tbody>
		</table>
		<ol class="mt-2 list-decimal pl-5">
			{#each plan.steps as step (step)}<li>{step}</li>{/each}
		</ol>
		<ul class="mt-2 border-l-[5px] border-short bg-paper-2 px-3 py-1.5">
			{#each plan.cautions as caution (caution)}<li class="font-semibold text-short">▲ {caution}</li>{/each}
		</ul>
		<table class="ledger mt-3">
			<thead><tr><th>Alloy</th><th class="num">Melts, °C</th><th>Use</th></tr></thead>
			<tbody>
				{#each ALLOYS as { code, label, solidus, liquidus, use } (code)}
					<tr class={code === board || code === added ? 'bg-wash' : ''}
						><td>{label}</td><td class="num">{solidus === liquidus ? solidus : `${solidus}–${liquidus}`}</td
						><td>{use}</td></tr
					>
				{/each}
			</tbody>
		</table>
	{/snippet}
</Tool>
