<script lang="ts">
	import { onMount } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import { countdownWords } from '$lib/core/bench/wait-calls';
	import { sendChanges } from './send-change';
	import { mayNotify } from './call-out';
	import { overWords, type BoardWait, type WaitBoard } from './wait-board.svelte';

	/** Waits whose time is over, called out wherever somebody is: a slip on every page and the title; sound and notification come with it. */
	let { board }: { board: WaitBoard } = $props();
	let allowed = $state(mayNotify());
	let problem = $state<string | null>(null);
	onMount(() => board.run());

	// the title says it where the page is behind others
	const over = $derived(board.calls.over);
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
	<section
		class="no-print fixed right-3 bottom-3 z-40 w-96 max-w-[calc(100vw-1.5rem)] rounded border-2 border-copper bg-paper px-3 py-2 shadow-md"
		aria-label="Waits that are over"
	>
		<ul class="max-h-56 overflow-y-auto" role="alert">
			{#each over as wait (`${wait.number} ${wait.for}`)}
				<li class="flex items-center justify-between gap-3 py-1">
					<span class="leading-snug">
						<strong>{wait.note ?? `Wait for ${wait.for}`}</strong>
						<span class="block text-sm text-ink-soft"
							><a class="link figure" href="/tickets/{wait.number}">{wait.number}</a>
							{wait.model}{wait.with ? `, ${wait.with}` : ''} · {countdownWords(wait.until, board.now)}</span
						>
					</span>
					<button class="btn btn-small shrink-0" onclick={() => end(wait)}
						>End it<span class="sr-only"> for {wait.number}</span></button
					>
				</li>
			{/each}
		</ul>
		{#if problem}<p role="status" class="text-sm font-semibold text-short">{problem}</p>{/if}
		{#if allowed === 'default'}
			<button class="link text-sm" onclick={ask}>Call me with a notification as well</button>
		{/if}
	</section>
{/if}
