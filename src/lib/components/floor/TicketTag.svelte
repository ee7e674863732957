<script lang="ts">
	import { durationWords } from '$lib/core/bench/promise';
	import type { Tag } from '$lib/server/floor/queries';
	import { useFormat } from '../ui/shop-context';
	let {
		tag,
		ondrag,
		selected = false,
		onselect
	}: { tag: Tag; ondrag?: (tag: Tag) => void; selected?: boolean; onselect?: (tag: Tag) => void } = $props();
	const format = useFormat();
	const tone = $derived(
		{
			late: 'font-semibold text-short',
			tight: 'font-semibold text-low',
			fine: 'text-ink-soft',
			none: 'text-ink-soft'
		}[tag.urgency]
	);
	const mark = $derived({ late: '▼ ', tight: '▽ ', fine: '', none: '' }[tag.urgency]);
</script>

<div
	class="tag relative bg-paper py-1.5 pr-2 pl-7 leading-snug {selected ? 'outline-3 outline-copper' : ''}"
	role="group"
	aria-label="{tag.number} {tag.model}"
	draggable={ondrag ? 'true' : undefined}
	ondragstart={(event) => {
		event.dataTransfer?.setData('text/plain', tag.number);
		ondrag?.(tag);
	}}
>
	<span class="hole" aria-hidden="true"></span>
	<p class="flex items-baseline justify-between gap-2">
		<a class="figure font-semibold whitespace-nowrap hover:underline" href="/tickets/{tag.number}"
			>{tag.number}</a
		>
		<span class="text-[0.87rem] whitespace-nowrap {tone}"
			>{mark}{tag.promisedAt === null ? 'no promise' : format.weekdayTime(tag.promisedAt)}</span
		>
	</p>
	<p class="text-[0.93rem]">{tag.model}</p>
	<p class="text-[0.87rem] text-ink-soft">
		{#if tag.comeback}<strong class="text-high">△ comeback</strong>{' · '}{/if}{#if tag.running}<strong
				class="text-agrees">● timer runs</strong
			>{' · '}{/if}{#if tag.waits.length > 0}waits for {tag.waits
				.map((wait) =>
					wait.until === null ? wait.for : `${wait.for} until ${format.weekdayTime(wait.until)}`
				)
				.join(' and ')}{:else if tag.next}{tag.next},
			<span class="figure">{tag.minutes}</span> min left{/if}
	</p>
	<p class="flex items-baseline justify-between gap-2 text-[0.87rem]">
		<span class={tone}
			>{tag.slackMs === null
				? ''
				: `${durationWords(tag.slackMs)} ${tag.slackMs < 0 ? 'short' : 'slack'}`}</span
		>
		{#if onselect}<button
				class="link shrink-0"
				onclick={() => onselect(tag)}
				aria-label="Pass on {tag.number}">pass on</button
			>{/if}
	</p>
</div>

<style>
	.tag {
		clip-path: polygon(10px 0, 100% 0, 100% 100%, 0 100%, 0 10px);
	}
	.hole {
		position: absolute;
		left: 10px;
		top: 12px;
		width: 10px;
		height: 10px;
		border: 1px solid var(--edge-strong);
		border-radius: 50%;
		background: var(--mat);
	}
</style>
