<script lang="ts">
	import { untrack } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
	import { WAITS, type Wait } from '$lib/core/tickets/ticket-entries';
	import type { Tag } from '$lib/server/floor/queries';
	import { HandOverDraft } from '../ui/hand-over.svelte';
	import HandOverFields from '../ui/HandOverFields.svelte';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import { sendChanges } from '../ui/send-change';

	let {
		open = $bindable(false),
		tag,
		technicians
	}: {
		open: boolean;
		tag: Tag | null;
		technicians: { code: string; name: string; skills: string[] }[];
	} = $props();
	const draft = new HandOverDraft();
	/** waits that end with this hand-over */
	let ended = $state<Wait[]>([]);
	let problem = $state<string | null>(null);
	$effect(() => {
		if (!open) return;
		untrack(() => draft.reset(tag?.assignedTo ?? null));
		ended = [];
		problem = null;
	});
	const waits = $derived((tag?.named ?? []).filter((waiting) => !ended.includes(waiting)));
	async function handOver(event: SubmitEvent) {
		event.preventDefault();
		if (!tag) return;
		problem = await sendChanges(tag, [
			...ended.map((waiting): TicketChangeInput => ({ verb: 'end-wait', for: waiting })),
			...draft.waiting,
			...draft.moving(tag.assignedTo)
		]);
		await invalidateAll();
		if (!problem) open = false;
	}
</script>

<ModalSlip bind:open title="Pass on {tag?.number ?? ''}">
	<form onsubmit={handOver} class="space-y-3">
		<HandOverFields
			{draft}
			{waits}
			choices={WAITS}
			onend={(waiting) => (ended = [...ended, waiting])}
			{technicians}
		/>
		{#if problem}<p role="alert" class="font-semibold text-short">✕ {problem}</p>{/if}
		<button class="btn btn-copper">Pass on</button>
	</form>
</ModalSlip>
