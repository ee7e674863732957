<script lang="ts">
	import { sideOf, type BoardPoint, type BoardSide } from '$lib/core/catalog/kinds-of-devices';

	/** One side of a board with its points: on the shop's own picture, or on a bare outline while there is none. */
	interface Mark {
		shape: string;
		/** class of its colour */
		tone: string;
		/** said beside the point's name */
		says: string;
	}
	let {
		points,
		side,
		picture,
		marks,
		current,
		onpick,
		onplace
	}: {
		points: readonly BoardPoint[];
		side: BoardSide;
		/** address of the picture of this side */
		picture: string | null;
		marks: Readonly<Record<string, Mark>>;
		current: string | null;
		onpick: (code: string) => void;
		/** where the board was pointed at, in per cent from left and top */
		onplace?: (x: number, y: number) => void;
	} = $props();
	const placed = $derived(
		points.filter((point) => sideOf(point) === side && point.x !== undefined && point.y !== undefined)
	);

	function place(event: MouseEvent & { currentTarget: HTMLElement }) {
		const box = event.currentTarget.getBoundingClientRect();
		onplace?.((100 * (event.clientX - box.left)) / box.width, (100 * (event.clientY - box.top)) / box.height);
	}
</script>

<div
	class="board relative overflow-hidden rounded border border-edge bg-wash"
	role="group"
	aria-label="{side} of the board"
>
	{#if picture}<img
			class="block w-full"
			src={picture}
			alt="The {side} of the board"
			draggable="false"
		/>{:else}
		<div class="bare aspect-[8/5]"></div>
	{/if}
	{#if onplace}
		<button
			type="button"
			class="absolute inset-0 cursor-crosshair"
			tabindex="-1"
			aria-label="Place the chosen point here"
			onclick={place}
		></button>
	{/if}
	{#each placed as { code, label, x, y } (code)}
		{@const mark = marks[code]}
		<button
			type="button"
			class="point figure {code === current ? 'point-here' : ''} {mark?.tone ?? 'text-ink-soft'}"
			style:left="{x}%"
			style:top="{y}%"
			title="{code}: {label}"
			aria-label="{code}, {label}{mark ? `, ${mark.says}` : ''}"
			aria-pressed={code === current}
			onclick={() => onpick(code)}>{mark?.shape ?? '·'}<span class="tag">{code}</span></button
		>
	{/each}
</div>

<style>
	.bare {
		background-image:
			linear-gradient(var(--color-edge) 1px, transparent 1px),
			linear-gradient(90deg, var(--color-edge) 1px, transparent 1px);
		background-size: 5% 8%;
		opacity: 0.5;
	}
	.point {
		position: absolute;
		display: flex;
		align-items: center;
		gap: 3px;
		transform: translate(-11px, -50%);
		min-height: 24px;
		border: 1px solid var(--color-edge);
		border-radius: 3px;
		background: var(--color-paper);
		padding: 0 5px;
		font-size: 0.8rem;
		line-height: 1;
	}
	.point .tag {
		color: var(--color-ink);
	}
	.point-here {
		z-index: 1;
		outline: 3px solid var(--color-copper);
	}
</style>
