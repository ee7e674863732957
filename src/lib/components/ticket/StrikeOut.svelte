<script lang="ts">
	import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
	import { useDesk } from './desk.svelte';

	/** Takes a mistaken entry of a list back; the audit trail keeps that it stood there. */
	let {
		list,
		index,
		what
	}: { list: Extract<TicketChangeInput, { verb: 'withdraw' }>['list']; index: number; what: string } =
		$props();
	const desk = useDesk();
</script>

{#if desk.view.ticket.closedAt === null}
	<button class="link text-sm whitespace-nowrap" onclick={() => desk.send({ verb: 'withdraw', list, index })}
		>strike out<span class="sr-only"> {what}</span></button
	>
{/if}
