<script lang="ts">
	import { page } from '$app/state';
	import type { Shop } from '$lib/core/catalog/catalog';
	import { taxIn } from '$lib/core/units/money';
	import { offerText, wayWords, type StandingOffer } from '$lib/core/tickets/offer-text';
	import { shopFormat } from '$lib/core/units/shop-format';
	import { customerLanguage } from '$lib/core/words/customer-language';
	import { useFormat } from '../ui/shop-context';
	import DeclineReasons from './DeclineReasons.svelte';
	import { useDesk } from './desk.svelte';
	import SignaturePad from './SignaturePad.svelte';

	/** An offer as its customer sees it at the counter: choose, sign, or decline. */
	let { offer, anew, done }: { offer: StandingOffer; anew: () => void; done: () => void } = $props();
	const desk = useDesk();
	const format = useFormat();
	const shop = page.data.shop as Shop;
	const ways = $derived(offer.offered);
	let chosen = $state<number | null>(null);
	const option = $derived(ways.length === 1 ? 0 : chosen);
	let signature = $state('');
	let declining = $state(false);
	let copied = $state(false);
	const how = $derived(offer.how ?? 'counter');
	const reads = $derived(customerLanguage(desk.view.ticket.customer?.language, shop.locale));
	const writing = $derived({
		...shopFormat({ ...shop, locale: reads.locale }),
		language: reads.language,
		shop: shop.name
	});
	const text = $derived(offerText(desk.view.ticket, offer, writing));
	const ended = $derived(offer.validUntil !== undefined && offer.validUntil < Date.now());

	async function accept() {
		if (option === null) return;
		const signed = how === 'counter' && signature ? { signature } : {};
		if (await desk.send({ verb: 'answer', accepted: true, option, how, ...signed })) done();
	}
	async function takeBack() {
		if (await desk.send({ verb: 'take-back' })) done();
	}
	async function copy() {
		await navigator.clipboard.writeText(text).catch(() => {});
		copied = true;
	}
</script>

<fieldset>
	<legend class="sr-only">Choose one</legend>
	<ol class="grid gap-2 {ways.length > 1 ? 'sm:grid-cols-2' : ''}">
		{#each ways as way, i (i)}
			<li>
				<label
					class="flex h-full cursor-pointer gap-3 rounded border-2 px-3 py-2.5 {option === i
						? 'border-copper bg-wash'
						: 'border-edge'}"
				>
					<input
						type="radio"
						name="way"
						class="mt-1 size-5 shrink-0 accent-[var(--copper)]"
						checked={option === i}
						onchange={() => (chosen = i)}
					/>
					<span class="flex-1">
						<strong class="block">{way.label}</strong>
						<span class="figure block text-2xl">{format.money(way.priceMinor)}</span>
						{#if shop.tax && way.priceMinor > 0}<span class="block text-sm text-ink-soft"
								>{shop.tax.label}
								{shop.tax.percent} % included: {format.money(taxIn(way.priceMinor, shop.tax.percent))}</span
							>{/if}
						{#each wayWords(way, writing) as words, k (k)}<span class="block text-sm text-ink-soft"
								>{words}</span
							>{/each}
					</span>
				</label>
			</li>
		{/each}
	</ol>
</fieldset>
<p class="mt-2 text-sm">
	{#if offer.validUntil !== undefined}<span class={ended ? 'font-semibold text-short' : ''}
			>{ended ? '▼ Expired' : 'Valid until'} {format.date(offer.validUntil)}.</span
		>{/if}
	{#if offer.depositMinor}Deposit before the work: {format.money(offer.depositMinor)}.{/if}
</p>
{#if how === 'message'}
	<details class="mt-2" open>
		<summary class="cursor-pointer font-semibold">The message</summary>
		<pre class="mt-1 max-h-56 overflow-auto rounded bg-paper-2 p-2 text-sm whitespace-pre-wrap">{text}</pre>
		<button type="button" class="btn btn-small mt-1" onclick={copy}>{copied ? 'Copied' : 'Copy it'}</button>
	</details>
{:else if how === 'counter'}
	<div class="mt-3"><SignaturePad bind:path={signature} /></div>
{/if}
<div class="mt-3 flex flex-wrap items-center gap-2">
	<button type="button" class="btn btn-copper" disabled={option === null || ended} onclick={accept}
		>{signature ? 'Accepted, signed' : 'Accepted'}</button
	>
	<button type="button" class="btn" aria-expanded={declining} onclick={() => (declining = !declining)}
		>Declined</button
	>
	<button type="button" class="btn ml-auto" onclick={takeBack}>Withdraw offer</button>
	<button type="button" class="btn" onclick={anew}>New offer</button>
	<a class="btn" href="/tickets/{desk.view.ticket.number}/print/quote" target="_blank">Print</a>
</div>
{#if declining}<DeclineReasons {how} {done} />{/if}
