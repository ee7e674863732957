<script lang="ts">
	/** A line drawn by hand with finger, pen or mouse; `path` is what was drawn, as moves and lines on 600 by 200. */
	let { path = $bindable('') }: { path: string } = $props();
	const WIDTH = 600;
	const HEIGHT = 200;
	/** a point every so many units is enough to know a hand by, and keeps it small */
	const LEAST_STEP = 3;
	const MOST = 19_000;
	let canvas = $state<HTMLCanvasElement>();
	let clear = $state<() => void>(() => {});

	interface Point {
		x: number;
		y: number;
	}
	function pathOf(strokes: { points: Point[] }[], { width, height }: { width: number; height: number }) {
		const words = strokes.map(({ points }) => {
			const kept: Point[] = [];
			for (const { x, y } of points) {
				const point = { x: (x * WIDTH) / width, y: (y * HEIGHT) / height };
				const last = kept.at(-1);
				if (!last || Math.hypot(point.x - last.x, point.y - last.y) >= LEAST_STEP) kept.push(point);
			}
			const within = (value: number, most: number) => Math.min(most, Math.max(0, Math.round(value)));
			return kept
				.map(({ x, y }, i) => `${i === 0 ? 'M' : 'L'}${within(x, WIDTH)} ${within(y, HEIGHT)}`)
				.join('');
		});
		return words.join('').slice(0, MOST);
	}

	$effect(() => {
		const target = canvas;
		if (!target) return;
		let gone = false;
		let stop = () => {};
		void import('signature_pad').then(({ default: Pad }) => {
			if (gone) return;
			const { width, height } = target.getBoundingClientRect();
			target.width = width;
			target.height = height;
			const ink = getComputedStyle(document.documentElement).getPropertyValue('--ink').trim();
			const pad = new Pad(target, { penColor: ink, minWidth: 1, maxWidth: 2.5 });
			pad.addEventListener('endStroke', () => (path = pathOf(pad.toData(), { width, height })));
			clear = () => {
				pad.clear();
				path = '';
			};
			stop = () => pad.off();
		});
		return () => {
			gone = true;
			stop();
		};
	});
</script>

<div>
	<canvas
		bind:this={canvas}
		class="h-36 w-full touch-none rounded border-2 border-dashed border-edge-strong bg-paper"
		aria-label="Sign here">Sign here</canvas
	>
	<p class="flex justify-between text-sm text-ink-soft">
		<span>{path ? 'Signed.' : 'Sign here, or leave it empty.'}</span>
		<button type="button" class="link" disabled={!path} onclick={() => clear()}>Clear</button>
	</p>
</div>
