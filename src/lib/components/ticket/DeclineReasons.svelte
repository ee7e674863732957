<script lang="ts">
	import { DECLINE_WORDS } from '$lib/core/tickets/dealing-words';
	import { DECLINES, type ASKED_BY } from '$lib/core/tickets/ticket-entries';
	import { useDesk } from './desk.svelte';

	/** Why a price was declined. */
	let { how, done }: { how?: (typeof ASKED_BY)[number]; done: () => void } = $props();
	const desk = useDesk();
	async function decline(why: (typeof DECLINES)[number]) {
		if (await desk.send({ verb: 'answer', accepted: false, why, ...(how ? { how } : {}) })) done();
	}
</script>

<span class="flex w-full flex-wrap items-center gap-1 text-sm"
	>Why? {#each DECLINES as why (why)}<button type="button" class="btn btn-small" onclick={() => decline(why)}
			>{DECLINE_WORDS[why]}</button
		>{/each}</span
>
