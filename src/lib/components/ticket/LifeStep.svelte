<script lang="ts">
	import { lifeOf, STATE_WORDS } from '$lib/core/tickets/life';
	import { nextMoves, type TicketChangeInput } from '$lib/core/tickets/ticket-change';
	import Field from '../ui/Field.svelte';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';

	/** Where the ticket stands in its life, and what leads on from there. */
	let { details }: { details: { label: string; text: string | undefined }[] } = $props();
	const desk = useDesk();
	const format = useFormat();
	const ticket = $derived(desk.ticket);
	const life = $derived(lifeOf(ticket, desk.gates));
	const since = $derived(life.since === null ? '' : `, since ${format.weekdayTime(life.since)}`);
	let giving = $state(false);
	let said = $state('');
	let despite = $state('');
	const moves = $derived(
		nextMoves(life.state).filter(({ change: { verb } }) =>
			ticket.closedAt === null ? desk.may(verb) : desk.mayWhenClosed(verb)
		)
	);
	const asksHowItDoes = $derived(moves.some(({ change }) => change.verb === 'follow-up'));

	function press(change: TicketChangeInput) {
		// what was left with it is read out first
		if (change.verb === 'collect') giving = true;
		else if (change.verb === 'follow-up') followUp(change);
		else void desk.send(change);
	}

	async function handBack(event: SubmitEvent) {
		event.preventDefault();
		if (await desk.send({ verb: 'collect' })) giving = false;
	}
	function followUp(change: TicketChangeInput & { verb: 'follow-up' }) {
		void desk.send({ ...change, ...(said.trim() ? { said } : {}) });
		said = '';
	}
	const held = $derived(
		desk.held.find(({ change, held }) => change.verb === 'seal' && held?.code === 'refused')
	);
	function sealDespite(event: SubmitEvent) {
		event.preventDefault();
		if (!held || !despite.trim()) return;
		desk.drop(held.once);
		void desk.send({ verb: 'seal', despite });
		despite = '';
	}
</script>

<div
	class="flex w-full flex-wrap items-center gap-x-5 gap-y-1 border-t border-edge pt-1 text-[0.93rem]"
	aria-label="Status"
	role="group"
>
	<p><strong>{STATE_WORDS[life.state]}</strong><span class="text-ink-soft">{since}</span></p>
	<dl class="flex min-w-40 flex-1 flex-wrap gap-x-5 gap-y-0.5">
		{#each details as { label, text } (label)}
			<div class="flex gap-1.5 max-sm:w-full">
				<dt class="whitespace-nowrap text-ink-soft">{label}:</dt>
				<dd class="min-w-0 break-words">{text}</dd>
			</div>
		{/each}
	</dl>
	{#if asksHowItDoes}
		<input
			class="field w-56"
			aria-label="Answer of the customer"
			placeholder="what was said"
			maxlength={500}
			bind:value={said}
		/>
	{/if}
	{#each moves as { label, leads, change } (label)}
		<button class="btn {leads ? 'btn-copper' : ''}" onclick={() => press(change)}>{label}</button>
	{/each}
	{#if held}
		<form class="flex w-full flex-wrap items-end gap-2" onsubmit={sealDespite}>
			<Field
				id="despite"
				label="Reason for sealing anyway"
				maxlength={500}
				bind:value={despite}
				class="min-w-60 flex-1"
			/>
			<button class="btn">Seal anyway</button>
		</form>
	{/if}
</div>
<ModalSlip bind:open={giving} title="Pick-up of {ticket.number}">
	<form class="space-y-3" onsubmit={handBack}>
		<p>
			{ticket.accessories ? 'Accessories, to be given back:' : 'Nothing was noted as left with it.'}
			{#if ticket.accessories}<strong>{ticket.accessories}</strong>{/if}
		</p>
		{#if ticket.condition}<p class="text-ink-soft">Condition on arrival: {ticket.condition}</p>{/if}
		{#if ticket.paidMinor === null || ticket.paidMinor === 0}<p class="font-semibold text-low">
				▽ Nothing has been paid on this ticket.
			</p>{/if}
		<button class="btn btn-copper">Picked up</button>
	</form>
</ModalSlip>
