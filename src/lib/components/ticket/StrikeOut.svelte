<script lang="ts">
	import type { StrikableList } from '$lib/core/tickets/ticket-entries';
	import { useDesk } from './desk.svelte';

	/** Takes a mistaken entry of a list back; it stays on the trail and can be put back. */
	let { list, index, what }: { list: StrikableList; index: number; what: string } = $props();
	const desk = useDesk();
</script>

{#if desk.isWaiting(list, index)}
	<span class="text-sm whitespace-nowrap text-low">… waiting, not saved yet</span>
{:else if desk.mayStrike(list)}
	<button class="link text-sm whitespace-nowrap" onclick={() => desk.send({ verb: 'withdraw', list, index })}
		>strike out<span class="sr-only"> {what}</span></button
	>
{/if}
