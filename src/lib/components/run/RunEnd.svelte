<script lang="ts">
	import { isForView } from '$lib/components/ui/key-to-action';
	import Field from '../ui/Field.svelte';
	import type { RunBoard } from './run-board.svelte';

	/** The end of a run: what came of it. Before its last step it says why. */
	let { board, early, onback }: { board: RunBoard; early: boolean; onback: () => void } = $props();
	const ENDS = [
		{ words: 'Fixed it', key: 'G', came: { resolved: true } },
		{ words: 'Did not fix it', key: 'T', came: { resolved: false } },
		{ words: 'Step only', key: 'P', came: { resolved: false, part: true } }
	] as const;
	let why = $state('');
	let problem = $state('');
	async function end(came: (typeof ENDS)[number]['came']) {
		if (early && !why.trim()) {
			problem = 'Say why the procedure ends before its last step';
			return;
		}
		await board.end(came, why.trim());
	}
	function keys(event: KeyboardEvent) {
		if (!isForView(event, { overDialogs: true })) return;
		const chosen = ENDS.find(({ key }) => key.toLowerCase() === event.key);
		if (chosen) void end(chosen.came);
	}
</script>

<svelte:window onkeydown={keys} />
<section class="slip mt-3" aria-label="End of the procedure">
	<h2 class="mb-2">{early ? 'End before the last step' : 'Every step is done. What was the result?'}</h2>
	{#if early}<Field
			id="why-end"
			label="Reason"
			maxlength={500}
			bind:value={why}
			error={problem || null}
			class="mb-2"
		/>{/if}
	<div class="flex flex-wrap gap-2">
		{#each ENDS as { words, key, came } (words)}
			<button
				class="btn min-h-11 {key === 'G' && !early ? 'btn-copper' : ''}"
				disabled={board.busy}
				onclick={() => end(came)}>{words} <span class="key">{key}</span></button
			>
		{/each}
		{#if early}<button class="link" onclick={onback}>back</button>{/if}
	</div>
</section>
