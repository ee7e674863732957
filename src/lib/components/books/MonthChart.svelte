<script lang="ts">
	import { useFormat } from '../ui/shop-context';
	import type { MonthRow } from '$lib/core/ledger/months';

	let {
		months,
		chosen,
		onchoose
	}: { months: MonthRow[]; chosen: string; onchoose: (month: string) => void } = $props();
	const format = useFormat();
	let canvas = $state<HTMLCanvasElement>();

	/** Chart.js is fetched with this chart only; colours and face come from the theme in use. */
	$effect(() => {
		const target = canvas;
		const shown = months;
		const picked = chosen;
		if (!target) return;
		let gone = false;
		let destroy = () => {};
		void import('chart.js').then(
			({ Chart, BarController, BarElement, CategoryScale, LinearScale, Tooltip }) => {
				if (gone) return;
				Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);
				const style = getComputedStyle(document.documentElement);
				const colour = (name: string) => style.getPropertyValue(name).trim();
				Chart.defaults.font.family = 'Hanken Grotesk Variable, sans-serif';
				const chart = new Chart(target, {
					type: 'bar',
					data: {
						labels: shown.map(({ month }) => month),
						datasets: [
							{
								data: shown.map(({ profitMinor }) => profitMinor / 100),
								backgroundColor: shown.map(({ month, profitMinor }) =>
									month === picked
										? colour('--copper')
										: profitMinor < 0
											? colour('--short')
											: colour('--bar')
								)
							}
						]
					},
					options: {
						animation: false,
						maintainAspectRatio: false,
						onClick: (_, [hit]) => {
							const key = hit && shown[hit.index]?.month;
							if (key) onchoose(key === picked ? '' : key);
						},
						plugins: {
							tooltip: { callbacks: { label: ({ parsed }) => format.money((parsed.y ?? 0) * 100) } }
						},
						scales: {
							x: {
								grid: { display: false },
								ticks: { color: colour('--ink-soft'), maxRotation: 0, autoSkipPadding: 14 }
							},
							y: {
								grid: { color: colour('--edge') },
								ticks: { color: colour('--ink-soft') },
								border: { display: false }
							}
						}
					}
				});
				destroy = () => chart.destroy();
			}
		);
		return () => {
			gone = true;
			destroy();
		};
	});
</script>

<div class="h-56">
	<canvas bind:this={canvas} aria-label="Profit by month; the same figures stand in the table of months"
		>Profit by month</canvas
	>
</div>
