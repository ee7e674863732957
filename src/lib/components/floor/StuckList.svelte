<script lang="ts">
	import { durationWords } from '$lib/core/bench/promise';
	import { STATE_WORDS } from '$lib/core/tickets/life';
	import { HOUR_MS } from '$lib/core/units/instant';
	import type { Tag } from '$lib/server/floor/queries';

	/** What nobody touched for longest, so that nothing is forgotten on a shelf. */
	let { tags, now }: { tags: readonly Tag[]; now: number } = $props();
	const UNTOUCHED = 24 * HOUR_MS;
	const stuck = $derived(
		tags
			.filter((tag) => now - tag.touchedAt > UNTOUCHED || (tag.promisedAt !== null && tag.promisedAt < now))
			.sort((a, b) => a.touchedAt - b.touchedAt)
			.slice(0, 12)
	);
</script>

<section aria-labelledby="stuck">
	<div class="mb-1.5 flex justify-between">
		<h2 id="stuck" class="text-ink">Stuck</h2>
		<span class="text-sm">longest untouched first</span>
	</div>
	{#if stuck.length === 0}<p class="text-sm">None. Every ticket was worked on within a day.</p>{/if}
	<ul>
		{#each stuck as tag (tag.number)}
			<li class="border-b border-edge bg-paper px-2 py-1 leading-snug">
				<a class="link figure" href="/tickets/{tag.number}">{tag.number}</a>
				<span
					class="float-right text-sm {tag.promisedAt !== null && tag.promisedAt < now
						? 'font-semibold text-short'
						: 'text-ink-soft'}"
					>{tag.promisedAt !== null && tag.promisedAt < now ? '▼ promise passed, ' : ''}{durationWords(
						now - tag.touchedAt
					)}</span
				>
				<span class="block text-[0.87rem] text-ink-soft">{tag.model}, {STATE_WORDS[tag.state]}</span>
			</li>
		{/each}
	</ul>
</section>
