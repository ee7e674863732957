<script lang="ts">
	import { untrack } from 'svelte';
	import { WAITS } from '$lib/core/tickets/ticket-entries';
	import { waitsNow } from '$lib/core/tickets/waits';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import { HandOverDraft } from '../ui/hand-over.svelte';
	import HandOverFields from '../ui/HandOverFields.svelte';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import { useDesk } from './desk.svelte';

	let { open = $bindable(false), bench }: { open: boolean; bench: BenchCatalog } = $props();
	const desk = useDesk();
	const draft = new HandOverDraft();
	const waits = $derived(waitsNow(desk.view.ticket).map((waiting) => waiting.for));
	$effect(() => {
		// when it opens, not when the ticket moves on meanwhile: what is typed stays
		if (open) untrack(() => draft.reset(desk.view.ticket.assignedTo));
	});

	async function handOver(event: SubmitEvent) {
		event.preventDefault();
		for (const change of draft.waiting) void desk.send(change);
		const [moving] = draft.moving(desk.view.ticket.assignedTo);
		if (!moving || (await desk.send(moving))) open = false;
	}
</script>

<ModalSlip bind:open title="Pass on {desk.view.ticket.number}">
	<form onsubmit={handOver} class="space-y-3">
		<HandOverFields
			{draft}
			{waits}
			choices={WAITS}
			onend={(ended) => desk.send({ verb: 'end-wait', for: ended })}
			technicians={bench.technicians}
		/>
		<button class="btn btn-copper">Pass on</button>
	</form>
</ModalSlip>
