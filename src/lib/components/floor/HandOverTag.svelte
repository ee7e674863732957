<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import type { Tag } from '$lib/server/floor/queries';
	import HandOverFields from '../ui/HandOverFields.svelte';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import { sendHandOver } from './send-hand-over';

	let {
		open = $bindable(false),
		tag,
		technicians
	}: {
		open: boolean;
		tag: Tag | null;
		technicians: { code: string; name: string; skills: string[] }[];
	} = $props();
	let to = $state('');
	let waitingFor = $state('');
	let problem = $state<string | null>(null);
	$effect(() => {
		if (!open || !tag) return;
		to = tag.assignedTo ?? '';
		waitingFor = tag.waitingFor ?? '';
		problem = null;
	});
	async function handOver(event: SubmitEvent) {
		event.preventDefault();
		if (!tag) return;
		problem = await sendHandOver(tag, to || null, waitingFor || null);
		await invalidateAll();
		if (!problem) open = false;
	}
</script>

<ModalSlip bind:open title="Hand over {tag?.number ?? ''}">
	<form onsubmit={handOver} class="space-y-3">
		<HandOverFields bind:to bind:waitingFor {technicians} />
		{#if problem}<p role="alert" class="font-semibold text-short">✕ {problem}</p>{/if}
		<button class="btn btn-copper">Hand over</button>
	</form>
</ModalSlip>
