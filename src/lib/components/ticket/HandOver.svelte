<script lang="ts">
	import Field from '../ui/Field.svelte';
	import { untrack } from 'svelte';
	import { WAITS, type Wait } from '$lib/core/tickets/ticket-entries';
	import { waitsNow } from '$lib/core/tickets/waits';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import HandOverFields from '../ui/HandOverFields.svelte';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import { useDesk } from './desk.svelte';

	let { open = $bindable(false), bench }: { open: boolean; bench: BenchCatalog } = $props();
	const desk = useDesk();
	let to = $state('');
	let wait = $state('');
	let note = $state('');
	const waits = $derived(waitsNow(desk.view.ticket).map((waiting) => waiting.for));
	$effect(() => {
		if (!open) return;
		// when it opens, not when the ticket moves on meanwhile: what is typed stays
		to = untrack(() => desk.view.ticket.assignedTo ?? '');
		wait = note = '';
	});

	async function handOver(event: SubmitEvent) {
		event.preventDefault();
		if (note.trim()) void desk.send({ verb: 'note', text: note });
		if (wait) void desk.send({ verb: 'wait', for: wait as Wait });
		const moved = (to || null) !== desk.view.ticket.assignedTo;
		if (!moved || (await desk.send({ verb: 'hand-over', to: to || null }))) open = false;
	}
</script>

<ModalSlip bind:open title="Hand over {desk.view.ticket.number}">
	<form onsubmit={handOver} class="space-y-3">
		<HandOverFields
			bind:to
			bind:wait
			{waits}
			choices={WAITS}
			onend={(ended) => desk.send({ verb: 'end-wait', for: ended })}
			technicians={bench.technicians}
		/>
		<Field
			id="hand-note"
			label="Word for the next hands (optional)"
			rows={2}
			maxlength={4000}
			bind:value={note}
		/>
		<button class="btn btn-copper">Hand over</button>
	</form>
</ModalSlip>
