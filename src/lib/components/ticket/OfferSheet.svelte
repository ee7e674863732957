<script lang="ts">
	import { standingOffer } from '$lib/core/tickets/offer-text';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import { useDesk } from './desk.svelte';
	import OfferAnswer from './OfferAnswer.svelte';
	import OfferMaker from './OfferMaker.svelte';

	/** Ways beside each other: made here, then shown to who is asked. */
	let { open = $bindable(false) }: { open: boolean } = $props();
	const desk = useDesk();
	const standing = $derived(standingOffer(desk.view.ticket));
	/** made anew though one stands */
	let anew = $state(false);
	const name = $derived(desk.view.ticket.customer?.name);
</script>

<ModalSlip
	bind:open
	title={standing && !anew
		? `Offer for ${desk.view.modelLabel}${name ? `, ${name}` : ''}`
		: `Offer options, ${desk.view.ticket.number}`}
	wide
>
	{#if standing && !anew}
		<OfferAnswer offer={standing} anew={() => (anew = true)} done={() => (open = false)} />
	{:else}
		<OfferMaker made={() => (anew = false)} />
	{/if}
</ModalSlip>
