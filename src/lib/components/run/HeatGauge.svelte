<script lang="ts">
	import {
		HEAT_BUDGET_MINUTES,
		HEAT_WORDS,
		LOOK_AGAIN_SECONDS,
		type HeatOnBoard
	} from '$lib/core/bench/heat';

	/** Heat that this board had, against what a board takes: one bar with two marks, filled from the left. */
	let { heat, now, open, onswitch }: { heat: HeatOnBoard; now: number; open: boolean; onswitch: () => void } =
		$props();
	const minutes = $derived(heat.seconds / 60);
	const on = $derived(heat.onSince !== null);
	/** since it went on, seconds */
	const running = $derived(heat.onSince === null ? 0 : Math.max(0, Math.floor((now - heat.onSince) / 1000)));
	const lookNow = $derived(on && running > 0 && running % LOOK_AGAIN_SECONDS.high < 3);
	const tone = $derived(
		{ none: 'text-ink-soft', within: 'text-agrees', watch: 'text-low', spent: 'text-short' }[heat.verdict]
	);
	const mark = $derived({ none: '·', within: '●', watch: '▽', spent: '▼' }[heat.verdict]);
	const share = (of: number) => Math.min(100, (of / (HEAT_BUDGET_MINUTES.spent * 1.2)) * 100);
</script>

<section class="slip" aria-label="Heat on this board">
	<div class="flex items-baseline justify-between">
		<h2>Heat on this board, all technicians</h2>
		<span class="figure text-xl {tone}"
			>{Math.floor(minutes)}:{String(Math.floor(heat.seconds % 60)).padStart(2, '0')}</span
		>
	</div>
	<div class="relative mt-1 h-4 bg-bar-ground" aria-hidden="true">
		<div
			class="h-full {heat.verdict === 'spent' ? 'bg-short' : heat.verdict === 'watch' ? 'bg-low' : 'bg-bar'}"
			style:width="{share(minutes)}%"
		></div>
		{#each Object.values(HEAT_BUDGET_MINUTES) as limit (limit)}
			<span class="absolute -top-0.5 h-5 border-l-2 border-ink" style:left="{share(limit)}%"></span>
		{/each}
	</div>
	<p class="mt-1 text-sm {tone}">{mark} {HEAT_WORDS[heat.verdict]}; a board takes 5 to 10 min in total</p>
	<button
		class="btn mt-2 w-full {on ? 'btn-copper' : ''}"
		disabled={!open}
		aria-pressed={on}
		onclick={onswitch}
		>{on ? `Heat off, on for ${running} s` : 'Heat on'} <span class="key">Space</span></button
	>
	<p class="mt-1 h-5 text-sm font-semibold text-copper" role="status">
		{lookNow ? '◉ Look at the joint' : ''}
	</p>
</section>
