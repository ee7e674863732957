<script lang="ts">
	import type { DayTask } from '$lib/core/bench/day/plan-day';
	import type { Tag } from '$lib/server/floor/queries';
	import { useFormat } from '../ui/shop-context';
	import { lateWords } from './late-words';

	/** The task that was chosen on the lanes, in words, and what can be done with it. */
	let {
		task,
		tag,
		first,
		nameOf,
		onpin,
		onhand
	}: {
		task: DayTask;
		tag: Tag;
		/** it is the next work of its ticket: it can be put in its place */
		first: boolean;
		nameOf: (code: string) => string;
		onpin: (to: { technician: string; startAt: number } | null) => void;
		onhand: () => void;
	} = $props();
	const format = useFormat();
</script>

<div
	class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1 border-l-[5px] border-copper bg-wash px-3 py-2"
	role="status"
>
	<p class="min-w-64 flex-1 leading-snug">
		<a class="link figure font-semibold" href="/tickets/{task.number}">{task.number}</a>
		{tag.model}: <strong>{task.label}</strong>, {nameOf(task.technician)},
		{format.weekdayTime(task.start)} to {format.time(task.end)}{task.waitEnd > task.end
			? `, then waits until ${format.time(task.waitEnd)}`
			: ''}{task.station ? `, at ${task.station}` : ''}
		{#if tag.why}<span
				class="block text-sm {tag.urgency === 'late' ? 'font-semibold text-short' : 'text-ink-soft'}"
				>{tag.urgency === 'late' ? '▼ late: ' : ''}{lateWords(tag.why, format)}</span
			>{/if}
	</p>
	{#if task.fixed === 'begun'}
		<span class="text-sm text-ink-soft">under way; the plan does not move it</span>
	{:else if tag.pinned && first}
		<button class="btn btn-small" onclick={() => onpin(null)}>Unpin</button>
	{:else if first}
		<button class="btn btn-small" onclick={() => onpin({ technician: task.technician, startAt: task.start })}
			>Pin it here</button
		>
		<span class="text-sm text-ink-soft">or drag it, or press Shift and an arrow key</span>
	{:else}
		<span class="text-sm text-ink-soft">moves with the ticket’s next task</span>
	{/if}
	<button class="btn btn-small" onclick={onhand}>Pass on<span class="sr-only"> {task.number}</span></button>
</div>
