<script lang="ts">
	import { WAITS, type Wait } from '$lib/core/tickets/ticket-record';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
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
		<div>
			<label class="label" for="hand-to">To</label>
			<select id="hand-to" class="field" bind:value={to}>
				<option value="">nobody, back on the rack</option>
				{#each bench.technicians as { code, name, skills } (code)}
					<option value={code}>{name}{skills.length ? `, ${skills.join(', ')}` : ''}</option>
				{/each}
			</select>
		</div>
		<div>
			<label class="label" for="hand-wait">Waits for</label>
			<select id="hand-wait" class="field" bind:value={waitingFor}>
				<option value="">nothing, hands can go on</option>
				{#each WAITS as wait (wait)}<option value={wait}>{wait}</option>{/each}
			</select>
		</div>
		<div>
			<label class="label" for="hand-note">Word for the next hands (optional)</label>
			<textarea id="hand-note" class="field" rows="2" bind:value={note}></textarea>
		</div>
		<button class="btn btn-copper">Hand over</button>
	</form>
</ModalSlip>
