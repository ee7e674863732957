<script lang="ts">
	import type { Wait } from '$lib/core/tickets/ticket-record';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import HandOverFields from '../ui/HandOverFields.svelte';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import { useDesk } from './desk.svelte';

	let { open = $bindable(false), bench }: { open: boolean; bench: BenchCatalog } = $props();
	const desk = useDesk();
	let to = $state('');
	let waitingFor = $state('');
	let note = $state('');
	$effect(() => {
		if (!open) return;
		to = desk.view.ticket.assignedTo ?? '';
		waitingFor = desk.view.ticket.waitingFor ?? '';
		note = '';
	});

	async function handOver(event: SubmitEvent) {
		event.preventDefault();
		if (note.trim()) await desk.send({ verb: 'note', text: note });
		const done = await desk.send({
			verb: 'hand-over',
			to: to || null,
			waitingFor: (waitingFor || null) as Wait | null
		});
		if (done) open = false;
	}
</script>

<ModalSlip bind:open title="Hand over {desk.view.ticket.number}">
	<form onsubmit={handOver} class="space-y-3">
		<HandOverFields bind:to bind:waitingFor technicians={bench.technicians} />
		<div>
			<label class="label" for="hand-note">Word for the next hands (optional)</label>
			<textarea id="hand-note" class="field" rows="2" bind:value={note}></textarea>
		</div>
		<button class="btn btn-copper">Hand over</button>
	</form>
</ModalSlip>
