<script lang="ts">
	import type { ASKED_BY } from '$lib/core/tickets/ticket-entries';
	import { useDesk } from './desk.svelte';

	/** Why a price was declined. */
	let { how, done }: { how?: (typeof ASKED_BY)[number]; done: () => void } = $props();
	const desk = useDesk();
	const WHY = [
		['too-dear', 'too dear'],
		['too-slow', 'too slow'],
		['buys-new', 'buys new'],
		['other', 'says nothing']
	] as const;
	async function decline(why: (typeof WHY)[number][0]) {
		if (await desk.send({ verb: 'answer', accepted: false, why, ...(how ? { how } : {}) })) done();
	}
</script>

<span class="flex w-full flex-wrap items-center gap-1 text-sm"
	>Why? {#each WHY as [why, words] (why)}<button
			type="button"
			class="btn btn-small"
			onclick={() => decline(why)}>{words}</button
		>{/each}</span
>
