<script lang="ts">
	import { percent } from '$lib/core/units/percent';
	import type { TrackRecord } from '$lib/core/diagnosis/record/track-record';

	/** What was foretold against how often it came: on the line the odds mean what they say. */
	let { bins }: { bins: NonNullable<TrackRecord['calibration']>['bins'] } = $props();
	const SIZE = 250;
	const LEFT = 40;
	const TOP = 10;
	const x = (chance: number) => LEFT + chance * SIZE;
	const y = (share: number) => TOP + (1 - share) * SIZE;
	const most = $derived(Math.max(1, ...bins.map(({ count }) => count)));
	const ticks = [0, 0.2, 0.4, 0.6, 0.8, 1];
	/** counts differ by hundreds: drawn by their logarithm */
	const bar = (count: number) => (34 * Math.log1p(count)) / Math.log1p(most);
	const words = $derived(
		bins
			.map(({ foretold, came, count }) => `foretold ${percent(foretold)}, came ${percent(came)} of ${count}`)
			.join('; ')
	);
</script>

<svg
	viewBox="0 0 {LEFT + SIZE + 12} {TOP + SIZE + 82}"
	class="w-full max-w-[360px]"
	role="img"
	aria-label="Calibration: {words}"
>
	{#each ticks as tick (tick)}
		<line x1={x(0)} x2={x(1)} y1={y(tick)} y2={y(tick)} stroke="var(--edge)" />
		<line x1={x(tick)} x2={x(tick)} y1={y(0)} y2={y(1)} stroke="var(--edge)" />
		<text x={LEFT - 6} y={y(tick) + 4} text-anchor="end" class="tick">{tick.toFixed(1)}</text>
		<text x={x(tick)} y={y(0) + 16} text-anchor="middle" class="tick">{tick.toFixed(1)}</text>
	{/each}
	<line x1={x(0)} y1={y(0)} x2={x(1)} y2={y(1)} stroke="var(--ink-soft)" stroke-dasharray="4 4" />
	{#each bins as { foretold, came, count, interval } (foretold)}
		<line
			x1={x(foretold)}
			x2={x(foretold)}
			y1={y(interval.low)}
			y2={y(interval.high)}
			stroke="var(--range)"
			stroke-width="3"
		/>
		<rect
			x={x(foretold) - 4}
			y={y(came) - 4}
			width="8"
			height="8"
			transform="rotate(45 {x(foretold)} {y(came)})"
			fill="var(--copper)"
		/>
		<rect x={x(foretold) - 8} y={y(0) + 62 - bar(count)} width="16" height={bar(count)} fill="var(--bar)" />
		<text x={x(foretold)} y={y(0) + 74} text-anchor="middle" class="tick small">{count}</text>
	{/each}
</svg>

<style>
	.tick {
		font-size: 11px;
		fill: var(--ink-soft);
		font-variant-numeric: tabular-nums;
	}
	.small {
		font-size: 9.5px;
	}
</style>
