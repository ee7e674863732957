<script lang="ts">
	import type { ComebackRow } from '$lib/core/returns/comeback-rows';
	import type { ReturnsView } from '$lib/server/returns/view';
	import { percent } from './returns-view';

	/** Rows by their jobs and share that came back; within the lines lie 95 and 99.8 of 100 that are as the shop is. */
	let {
		limits,
		rows,
		usual,
		chosen
	}: { limits: ReturnsView['funnel']; rows: ComebackRow[]; usual: number; chosen: string | null } = $props();
	const [WIDTH, HEIGHT, LEFT, TOP] = [322, 120, 46, 8];
	const shown = $derived(rows.filter(({ jobs }) => jobs > 0));
	const most = $derived(Math.max(20, ...shown.map(({ jobs }) => jobs)));
	const top = $derived(Math.min(1, Math.max(3 * usual, 1.1 * Math.max(0, ...shown.map(({ rate }) => rate)))));
	const x = (jobs: number) => LEFT + WIDTH * Math.sqrt(jobs / most);
	const y = (share: number) => TOP + HEIGHT * (1 - Math.min(top, share) / top);
	const path = (of: (limit: ReturnsView['funnel'][number]) => number) =>
		limits.map((limit, i) => `${i === 0 ? 'M' : 'L'}${x(limit.jobs)},${y(of(limit))}`).join(' ');
	const outside = $derived(
		shown.filter(({ jobs, rate }) => {
			const near = limits.findLast((limit) => limit.jobs <= jobs) ?? limits[0];
			return near !== undefined && rate > near.highest;
		})
	);
</script>

<svg
	viewBox="0 0 {LEFT + WIDTH + 10} {TOP + HEIGHT + 22}"
	class="w-full max-w-[460px]"
	role="img"
	aria-label="Funnel of {shown.length} rows round {percent(usual, 1)}: {outside.length === 0
		? 'none is above the outer line'
		: `above the outer line ${outside.map(({ label }) => label).join(', ')}`}"
>
	<line x1={x(0)} x2={x(most)} y1={y(usual)} y2={y(usual)} stroke="var(--ink-soft)" />
	{#each [0, top / 2, top] as tick (tick)}
		<text x={LEFT - 5} y={y(tick) + 4} text-anchor="end" class="tick">{percent(tick)}</text>
	{/each}
	{#each [most / 16, most / 4, most] as tick (tick)}
		<text x={x(tick)} y={y(0) + 15} text-anchor="middle" class="tick">{Math.round(tick)}</text>
	{/each}
	<path d={path(({ high }) => high)} class="limit" stroke-dasharray="4 3" />
	<path d={path(({ low }) => low)} class="limit" stroke-dasharray="4 3" />
	<path d={path(({ highest }) => highest)} class="limit" />
	<path d={path(({ lowest }) => lowest)} class="limit" />
	{#each shown as { key, jobs, rate, label } (key)}
		<circle
			cx={x(jobs)}
			cy={y(rate)}
			r={key === chosen ? 5 : 3.2}
			fill={key === chosen ? 'var(--copper)' : 'var(--bar)'}
			opacity={key === chosen ? 1 : 0.75}><title>{label}: {percent(rate, 1)} of {jobs}</title></circle
		>
	{/each}
</svg>

<style>
	.limit {
		fill: none;
		stroke: var(--edge-strong);
		stroke-width: 1.2;
	}
	.tick {
		font-family: var(--font-mono);
		font-size: 10.5px;
		fill: var(--ink-soft);
	}
</style>
