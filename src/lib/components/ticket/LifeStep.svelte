<script lang="ts">
	import { lifeOf, STATE_WORDS } from '$lib/core/tickets/life';
	import { FOUND_AFTER } from '$lib/core/tickets/ticket-entries';
	import Field from '../ui/Field.svelte';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';

	/** Where the ticket stands in its life, and the one step that leads on: seal, tell, hand back, ask how it does. */
	let { details }: { details: { label: string; text: string | undefined }[] } = $props();
	const desk = useDesk();
	const format = useFormat();
	const ticket = $derived(desk.ticket);
	const life = $derived(lifeOf(ticket, desk.gates));
	const since = $derived(life.since === null ? '' : `, since ${format.weekdayTime(life.since)}`);
	let giving = $state(false);
	let said = $state('');
	let despite = $state('');
	const FOUND = { holds: 'It holds', trouble: 'There is trouble', 'not-reached': 'Nobody reached' };

	async function handBack(event: SubmitEvent) {
		event.preventDefault();
		if (await desk.send({ verb: 'collect' })) giving = false;
	}
	function followUp(found: (typeof FOUND_AFTER)[number]) {
		void desk.send({ verb: 'follow-up', found, ...(said.trim() ? { said } : {}) });
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
	aria-label="Where it stands"
	role="group"
>
	<p><strong>{STATE_WORDS[life.state]}</strong><span class="text-ink-soft">{since}</span></p>
	<dl class="flex min-w-40 flex-1 flex-wrap gap-x-5 gap-y-0.5">
		{#each details as { label, text } (label)}
			<div class="flex gap-1.5">
				<dt class="whitespace-nowrap text-ink-soft">{label}:</dt>
				<dd>{text}</dd>
			</div>
		{/each}
	</dl>
	{#if life.state === 'proved' && desk.may('seal')}
		<button class="btn btn-copper" onclick={() => desk.send({ verb: 'seal' })}>Seal</button>
	{:else if life.state === 'ready' || (life.state === 'paid' && desk.mayWhenClosed('tell'))}
		{#if life.state === 'ready'}
			<button class="btn" onclick={() => desk.send({ verb: 'tell', how: 'telephone' })}
				>Told by telephone</button
			>
			<button class="btn" onclick={() => desk.send({ verb: 'tell', how: 'message' })}>Told by message</button>
		{/if}
		<button class="btn btn-copper" onclick={() => (giving = true)}>Hand back</button>
	{:else if life.state === 'told'}
		<button class="btn btn-copper" onclick={() => (giving = true)}>Hand back</button>
	{:else if life.state === 'handed-over' && desk.mayWhenClosed('follow-up')}
		<input
			class="field w-56"
			aria-label="What the customer said"
			placeholder="what was said"
			maxlength={500}
			bind:value={said}
		/>
		{#each FOUND_AFTER as found (found)}
			<button class="btn" onclick={() => followUp(found)}>{FOUND[found]}</button>
		{/each}
	{/if}
	{#if held}
		<form class="flex w-full flex-wrap items-end gap-2" onsubmit={sealDespite}>
			<Field
				id="despite"
				label="Sealed all the same, because"
				maxlength={500}
				bind:value={despite}
				class="min-w-60 flex-1"
			/>
			<button class="btn">Seal all the same</button>
		</form>
	{/if}
</div>
<ModalSlip bind:open={giving} title="Hand {ticket.number} back">
	<form class="space-y-3" onsubmit={handBack}>
		<p>
			{ticket.accessories ? 'Left with it, to be given back:' : 'Nothing was noted as left with it.'}
			{#if ticket.accessories}<strong>{ticket.accessories}</strong>{/if}
		</p>
		{#if ticket.condition}<p class="text-ink-soft">On arrival it was: {ticket.condition}</p>{/if}
		{#if ticket.paidMinor === null || ticket.paidMinor === 0}<p class="font-semibold text-low">
				▽ Nothing is paid on this ticket.
			</p>{/if}
		<button class="btn btn-copper">Handed back</button>
	</form>
</ModalSlip>
