<script lang="ts">
	import { onMount } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import { countdownWords } from '$lib/core/bench/wait-calls';
	import { sendChanges } from './send-change';
	import { mayNotify } from './call-out';
	import { overWords, type BoardWait, type WaitBoard } from './wait-board.svelte';

	/** Waits whose time is over, called out wherever somebody is: a strip on every page and the title; sound and notification come with it. */
	const MOST_SHOWN = 3;
	let { board }: { board: WaitBoard } = $props();
	let allowed = $state(mayNotify());
	let problem = $state<string | null>(null);
	onMount(() => board.run());

	// the title says it where the page is behind others
	const over = $derived(board.calls.over);
	const shown = $derived(over.slice(0, MOST_SHOWN));
	$effect(() => {
		const first = over[0];
		if (!first) return;
		const before = document.title;
		const called = `▲ ${overWords(first)}`;
		document.title = called;
		return () => {
			if (document.title === called) document.title = before;
		};
	});

	async function end(wait: BoardWait) {
		problem = await sendChanges(wait, [{ verb: 'end-wait', for: wait.for }]);
		await board.ask();
		await invalidateAll();
	}
	const ask = async () => (allowed = await Notification.requestPermission());
</script>

{#if over.length > 0}
	<!-- in the flow of the page: what stands below moves down, nothing that somebody is about to press is covered -->
	<section
		class="no-print z-40 border-b-2 border-copper bg-paper px-3 shadow-sm sm:sticky sm:top-0 sm:px-4"
		aria-label="Waits that are over"
	>
		<ul class="mx-auto flex max-w-[1560px] flex-wrap items-center gap-x-6" role="alert">
			{#each shown as wait (`${wait.number} ${wait.for}`)}
				<li class="flex items-center gap-3 py-1 max-sm:w-full max-sm:justify-between">
					<span class="leading-snug">
						<strong>{wait.note ?? `Wait for ${wait.for}`}</strong>
						<span class="text-sm text-ink-soft"
							><a class="link figure" href="/tickets/{wait.number}">{wait.number}</a>
							{wait.model}{wait.with ? `, ${wait.with}` : ''} · {countdownWords(wait.until, board.now)}</span
						>
					</span>
					<button class="btn btn-small shrink-0" onclick={() => end(wait)}
						>End it<span class="sr-only"> for {wait.number}</span></button
					>
				</li>
			{/each}
			{#if over.length > shown.length}
				<li><a class="link text-sm" href="/floor">{over.length - shown.length} more on the floor</a></li>
			{/if}
			{#if allowed === 'default'}
				<li><button class="link text-sm" onclick={ask}>Call me with a notification as well</button></li>
			{/if}
		</ul>
		{#if problem}<p role="status" class="pb-1 text-sm font-semibold text-short">{problem}</p>{/if}
	</section>
{/if}
