<script lang="ts">
	import { invalidateAll } from '$app/navigation';
	import { WAITS } from '$lib/core/tickets/ticket-record';
	import type { Tag } from '$lib/server/floor/queries';
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
		<div>
			<label class="label" for="tag-to">To</label>
			<select id="tag-to" class="field" bind:value={to}>
				<option value="">nobody, back on the rack</option>
				{#each technicians as { code, name, skills } (code)}
					<option value={code}>{name}{skills.length ? `, ${skills.join(', ')}` : ''}</option>
				{/each}
			</select>
		</div>
		<div>
			<label class="label" for="tag-wait">Waits for</label>
			<select id="tag-wait" class="field" bind:value={waitingFor}>
				<option value="">nothing, hands can go on</option>
				{#each WAITS as wait (wait)}<option value={wait}>{wait}</option>{/each}
			</select>
		</div>
		{#if problem}<p role="alert" class="font-semibold text-short">✕ {problem}</p>{/if}
		<button class="btn btn-copper">Hand over</button>
	</form>
</ModalSlip>
