<script lang="ts">
	import { continuityMatrix, continuityWords } from '$lib/core/readings/continuity';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	import StrikeOut from './StrikeOut.svelte';

	/** After a repair: which pairs must and must not connect. Only what is otherwise is entered. */
	const desk = useDesk();
	const format = useFormat();
	const connector = $derived(desk.view.connector);
	const open = $derived(desk.may('continuity'));
	const matrix = $derived(connector ? continuityMatrix(connector) : null);
	let misses = $state.raw<[string, string][]>([]);
	const key = ([a, b]: readonly [string, string]) => `${a} ${b}`;
	const missed = $derived(new Set(misses.map(key)));
	const joined = $derived(matrix?.probes.filter(({ connected }) => connected) ?? []);
	const apart = $derived(matrix?.probes.filter(({ connected }) => !connected) ?? []);
	function toggle(pins: readonly [string, string]) {
		misses = missed.has(key(pins))
			? misses.filter((pair) => key(pair) !== key(pins))
			: [...misses, [pins[0], pins[1]]];
	}
	function take() {
		if (!matrix) return;
		void desk.send({ verb: 'continuity', misses, probes: matrix.probes.length });
		misses = [];
	}
	const wordsOf = (pins: readonly [string, string]) => {
		const pair = matrix?.all.find(
			(item) => key(item.pins) === key(pins) || key([item.pins[1], item.pins[0]]) === key(pins)
		);
		return pair ? continuityWords(pair) : pins.join('–');
	};
</script>

{#if matrix && connector}
	<section class="mt-3" aria-labelledby="continuity">
		<h2 id="continuity" class="text-ink">Continuity, battery disconnected</h2>
		<p class="text-sm text-ink-soft">
			<span class="figure">{matrix.probes.length}</span> probes test all
			<span class="figure">{matrix.all.length}</span> pairs. Press only the ones that are wrong.
		</p>
		{#each [{ title: 'Must connect', pairs: joined }, { title: 'Must not connect', pairs: apart }] as { title, pairs } (title)}
			<h3 class="mt-1.5 text-sm font-semibold">{title}</h3>
			<div class="flex flex-wrap gap-1" role="group" aria-label={title}>
				{#each pairs as { pins, nets } (key(pins))}
					<button
						class="btn btn-small figure"
						disabled={!open}
						aria-pressed={missed.has(key(pins))}
						title={[...new Set(nets)].join(' – ')}
						onclick={() => toggle(pins)}>{pins.join('–')}</button
					>
				{/each}
			</div>
		{/each}
		{#each misses as pins (key(pins))}<p class="mt-1 border-l-[5px] border-short bg-paper-2 px-3 py-1">
				{wordsOf(pins)}.
			</p>{/each}
		{#if open}
			<button class="btn mt-2" onclick={take}
				>{misses.length === 0
					? 'All correct'
					: `Record ${misses.length} ${misses.length === 1 ? 'fault' : 'faults'}`}</button
			>
		{/if}
		{#each desk.ticket.continuity as check, i (i)}
			<p class="mt-1 text-sm">
				{#if check.misses.length === 0}<span class="text-agrees">● all {check.probes} correct</span
					>{:else}<span class="text-short">▼ {check.misses.map((pins) => wordsOf(pins)).join('; ')}</span
					>{/if}
				<span class="text-ink-soft">{check.at ? format.weekdayTime(check.at) : ''} {check.by ?? ''}</span>
				<StrikeOut list="continuity" index={i} what="continuity check {i + 1}" />
			</p>
		{/each}
	</section>
{/if}
