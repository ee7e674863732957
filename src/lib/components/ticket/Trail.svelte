<script lang="ts">
	import type { TrailEntry } from '$lib/core/tickets/trail';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	const desk = useDesk();
	const format = useFormat();
	/** the trail with the notes that wait for the line */
	const trail = $derived([
		...desk.view.trail,
		...desk.ticket.notes.flatMap(({ text, at }, i): TrailEntry[] =>
			desk.isWaiting('notes', i)
				? [{ at: at ?? 0, by: null, kind: 'noted', text: `${text} … not saved yet` }]
				: []
		)
	]);
	const days = $derived.by(() => {
		const groups: { day: string; entries: TrailEntry[] }[] = [];
		for (const entry of trail) {
			const day = format.day(entry.at);
			if (groups.at(-1)?.day === day) groups.at(-1)?.entries.push(entry);
			else groups.push({ day, entries: [entry] });
		}
		return groups;
	});
	let note = $state('');
	function addNote(event: SubmitEvent) {
		event.preventDefault();
		const text = note.trim();
		if (!text) return;
		void desk.send({ verb: 'note', text });
		note = '';
	}
</script>

<section class="slip flex flex-col" aria-labelledby="trail-title">
	<div class="mb-1 flex items-baseline justify-between">
		<h2 id="trail-title">Trail</h2>
		<span class="text-sm text-ink-soft"
			><span class="figure">{trail.length}</span>
			{trail.length === 1 ? 'entry' : 'entries'}</span
		>
	</div>
	<ol class="trail mb-2">
		{#each days as { day, entries } (day)}
			<li class="pt-1.5 pb-0.5 pl-5 text-[0.82rem] font-semibold text-ink-soft">{day}</li>
			{#each entries as entry, i (i)}
				<li class="entry relative py-1 pl-5 text-[0.93rem] leading-snug">
					<span class="figure text-[0.82rem] text-ink-soft"
						>{format.time(entry.at)}{entry.by ? ` ${entry.by}` : ''}</span
					>
					{#if entry.struck}
						{@const { index, by, at } = entry.struck}
						<s class="block break-words text-ink-soft">{entry.text}</s>
						<span class="block text-[0.82rem] text-ink-soft"
							>struck out{at === null ? '' : ` ${format.time(at)}`}{by
								? ` ${by}`
								: ''}{#if desk.mayPutBack(index)}{' · '}<button
									class="link"
									onclick={() => desk.send({ verb: 'put-back', index })}
									>put back<span class="sr-only"> {entry.text}</span></button
								>{/if}</span
						>
					{:else}<span class="block break-words"
							>{entry.text}{#if entry.amountMinor !== undefined}{' '}<span class="figure"
									>{format.money(entry.amountMinor)}</span
								>.{/if}</span
						>{/if}
				</li>
			{/each}
		{/each}
	</ol>
	<form class="mt-auto flex gap-2" onsubmit={addNote}>
		<input class="field" aria-label="Note" placeholder="add a note" bind:value={note} />
		<button class="btn btn-small" disabled={!note.trim()}>Note</button>
	</form>
</section>

<style>
	.trail {
		border-left: 2px solid var(--edge-strong);
		margin-left: 6px;
	}
	.entry::before {
		content: '';
		position: absolute;
		left: -7px;
		top: 9px;
		width: 12px;
		height: 12px;
		border: 2px solid var(--ink);
		border-radius: 50%;
		background: var(--paper);
	}
	.entry:last-child::before {
		background: var(--copper);
		border-color: var(--copper);
	}
</style>
