<script lang="ts">
	import type { Chart as ChartType, Plugin } from 'chart.js';
	import { decimate, PHASE_WORDS, type Phase, type Trace } from '$lib/core/charging/trace-phases';
	import { PHASE_LOOK } from './phase-look';
	import { secondsWords } from './seconds-words';

	let { trace, phases }: { trace: Trace; phases: readonly Phase[] } = $props();
	let canvas = $state<HTMLCanvasElement>();
	/** sample under the pointer, or the slider: read from the whole trace, not from what is drawn */
	let at = $state(0);
	const BUCKETS = 500;
	const last = $derived(trace.seconds.length - 1);
	const shown = $derived(Math.min(at, last));
	const phase = $derived(
		phases.findLast(({ fromSeconds }) => fromSeconds <= (trace.seconds[shown] ?? 0)) ?? phases[0]
	);

	/** The sample nearest to a moment. */
	function sampleAt(seconds: number): number {
		let [low, high] = [0, trace.seconds.length - 1];
		while (low < high) {
			const middle = (low + high) >> 1;
			if ((trace.seconds[middle] as number) < seconds) low = middle + 1;
			else high = middle;
		}
		const before = Math.max(0, low - 1);
		const nearer = seconds - (trace.seconds[before] as number) < (trace.seconds[low] as number) - seconds;
		return nearer ? before : low;
	}
	const points = (values: Float64Array) =>
		decimate(values, BUCKETS).map((i) => ({ x: trace.seconds[i] as number, y: values[i] as number }));

	/** Chart.js is fetched with this chart only; colours and face come from the theme in use. */
	$effect(() => {
		const target = canvas;
		const [amps, volts] = [points(trace.amps), points(trace.volts)];
		const bands = phases;
		if (!target) return;
		let gone = false;
		let chart: ChartType | null = null;
		void import('chart.js').then(({ Chart, LineController, LineElement, LinearScale, PointElement }) => {
			if (gone) return;
			Chart.register(LineController, LineElement, LinearScale, PointElement);
			const style = getComputedStyle(document.documentElement);
			const colour = (name: string) => style.getPropertyValue(name).trim();
			Chart.defaults.font.family = 'Hanken Grotesk Variable, sans-serif';
			const phaseBands: Plugin = {
				id: 'phases',
				beforeDatasetsDraw({ ctx, chartArea, scales }) {
					const x = scales.x;
					if (!x) return;
					for (const { kind, fromSeconds, toSeconds } of bands) {
						const [from, to] = [x.getPixelForValue(fromSeconds), x.getPixelForValue(toSeconds)];
						ctx.globalAlpha = 0.13;
						ctx.fillStyle = colour(PHASE_LOOK[kind].colour);
						ctx.fillRect(from, chartArea.top, Math.max(1, to - from), chartArea.bottom - chartArea.top);
						ctx.globalAlpha = 1;
						ctx.fillRect(from, chartArea.top, Math.max(1, to - from), 4);
					}
				}
			};
			const axis = (title: string, position: 'left' | 'right', tint: string) => ({
				type: 'linear' as const,
				position,
				min: 0,
				title: { display: true, text: title, color: colour(tint) },
				grid: { color: colour('--edge'), drawOnChartArea: position === 'left' },
				ticks: { color: colour(tint) },
				border: { display: false }
			});
			const line = (data: { x: number; y: number }[], tint: string, yAxisID: string, width: number) => ({
				data,
				yAxisID,
				borderColor: colour(tint),
				borderWidth: width,
				pointRadius: 0
			});
			chart = new Chart(target, {
				type: 'line',
				data: { datasets: [line(amps, '--ink', 'amps', 1.6), line(volts, '--copper', 'volts', 1.1)] },
				options: {
					animation: false,
					parsing: false,
					normalized: true,
					maintainAspectRatio: false,
					events: ['mousemove', 'touchmove', 'click'],
					onHover: (event) => {
						const x = chart?.scales.x;
						if (x && event.x !== null) at = sampleAt(x.getValueForPixel(event.x) ?? 0);
					},
					scales: {
						x: {
							type: 'linear',
							min: trace.seconds[0] ?? 0,
							max: trace.seconds[trace.seconds.length - 1] ?? 1,
							grid: { color: colour('--edge') },
							ticks: {
								color: colour('--ink-soft'),
								maxRotation: 0,
								callback: (value) => secondsWords(Number(value))
							}
						},
						amps: axis('amperes', 'left', '--ink'),
						volts: axis('volts', 'right', '--copper')
					}
				},
				plugins: [phaseBands]
			});
		});
		return () => {
			gone = true;
			chart?.destroy();
		};
	});
</script>

<div class="mt-2 h-60">
	<canvas
		bind:this={canvas}
		aria-label="Current and voltage over time, with the phases as bands; the table below says the same"
		>Trace</canvas
	>
</div>
<div class="flex flex-wrap items-center gap-x-4 text-sm">
	<label class="flex items-center gap-2"
		>Read off at<input class="w-56 accent-copper" type="range" min="0" max={last} bind:value={at} /></label
	>
	<output class="figure"
		>{secondsWords(trace.seconds[shown] ?? 0)} · {(trace.volts[shown] ?? 0).toFixed(3)} V · {(
			trace.amps[shown] ?? 0
		).toFixed(4)} A</output
	>
	{#if phase}<span class="text-ink-soft">{PHASE_WORDS[phase.kind]}</span>{/if}
</div>
