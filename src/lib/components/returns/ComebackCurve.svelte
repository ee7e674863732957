<script lang="ts">
	import type { CurvePoint } from '$lib/core/returns/comeback-curve';
	import { percent } from './returns-view';

	/** The share that has come back by each day, with its 95 % band. */
	let { curve, days, until = 180 }: { curve: CurvePoint[]; days: number; until?: number } = $props();
	const [WIDTH, HEIGHT, LEFT, TOP] = [322, 128, 46, 8];
	const top = $derived(Math.min(1, Math.max(0.05, 1.15 * Math.max(0, ...curve.map(({ high }) => high)))));
	const x = (day: number) => LEFT + (WIDTH * Math.min(until, day)) / until;
	const y = (share: number) => TOP + HEIGHT * (1 - Math.min(top, share) / top);
	/** a step at each day, level between */
	const line = (of: (point: CurvePoint) => number) => {
		let path = `M${x(0)},${y(0)}`;
		for (const point of curve) path += ` H${x(point.day)} V${y(of(point))}`;
		return `${path} H${x(until)}`;
	};
	const band = $derived.by(() => {
		const last = curve.at(-1);
		if (!last) return '';
		let back = ` L${x(until)},${y(last.low)}`;
		for (let i = curve.length - 1; i >= 0; i--) {
			const point = curve[i] as CurvePoint;
			back += ` H${x(point.day)} V${y(curve[i - 1]?.low ?? 0)}`;
		}
		return `${line(({ high }) => high)}${back} Z`;
	});
	const ticks = $derived([0, 0.5, 1].map((share) => share * top));
</script>

<svg
	viewBox="0 0 {LEFT + WIDTH + 10} {TOP + HEIGHT + 22}"
	class="w-full max-w-[460px]"
	role="img"
	aria-label="Come back by day: {curve
		.filter((_, i) => i % 4 === 0)
		.map(({ day, rate }) => `day ${day} ${percent(rate, 1)}`)
		.join(', ') || 'nothing came back'}"
>
	{#each ticks as tick (tick)}
		<line x1={x(0)} x2={x(until)} y1={y(tick)} y2={y(tick)} stroke="var(--edge)" />
		<text x={LEFT - 5} y={y(tick) + 4} text-anchor="end" class="tick">{percent(tick, top < 0.2 ? 1 : 0)}</text
		>
	{/each}
	{#each [0, 30, 60, 90, 120, 150, 180] as day (day)}
		<text x={x(day)} y={y(0) + 15} text-anchor="middle" class="tick">{day}</text>
	{/each}
	<path d={band} fill="var(--range)" opacity="0.25" />
	<path d={line(({ rate }) => rate)} fill="none" stroke="var(--copper)" stroke-width="2" />
	<line x1={x(days)} x2={x(days)} y1={TOP} y2={y(0)} stroke="var(--ink)" stroke-dasharray="3 3" />
</svg>

<style>
	.tick {
		font-family: var(--font-mono);
		font-size: 10.5px;
		fill: var(--ink-soft);
	}
</style>
