<script lang="ts">
	import { codeEntry } from '$lib/core/units/code';
	import { percent } from '$lib/core/units/percent';
	import { nounFor } from '$lib/core/units/noun';
	import { agreedOperations } from '$lib/core/tickets/agreed';
	import { lastOffer, standingOffer, wayWords } from '$lib/core/tickets/offer-text';
	import { taxOf } from '$lib/core/tickets/money';
	import { taxIn } from '$lib/core/units/money';
	import { onMount } from 'svelte';
	import { shopFormat } from '$lib/core/units/shop-format';
	let { data } = $props();
	const format = $derived(shopFormat(data.shop));
	const ticket = $derived(data.view.ticket);
	const TITLES = { sheet: 'Job sheet', receipt: 'Receipt', label: 'Tag', quote: 'Quote' };
	const signs = $derived(
		data.bench.signs.flatMap(({ code, label }) => {
			const state = codeEntry(ticket.signs, code);
			// paper for the customer says what is, the job sheet also what was looked for in vain
			if (state === undefined || (!state && data.what !== 'sheet')) return [];
			return [state ? label : `not: ${label}`];
		})
	);
	/** what the price is for, as it was agreed */
	const agreed = $derived(
		agreedOperations(ticket).map(
			(code) => data.bench.operations.find((operation) => operation.code === code)?.label ?? code
		)
	);
	/** ways that were offered beside each other; null where one price was quoted */
	const offer = $derived(lastOffer(ticket));
	const chosen = $derived(offer?.answer?.accepted ? (offer.answer.option ?? 0) : null);
	const operations = $derived(
		(data.view.advice?.plan.steps ?? []).filter(({ kind }) => kind === 'operation')
	);
	onMount(() => window.print());
</script>

<svelte:head><title>{TITLES[data.what]} {ticket.number}</title></svelte:head>

<main class="paper {data.what === 'label' ? 'label-paper' : ''}">
	<button class="btn no-print mb-4" onclick={() => window.print()}>Print</button>
	{#if data.what === 'label'}
		<p class="figure text-2xl font-semibold">{ticket.number}</p>
		<div class="scan-code"><img src={data.code} alt="Scannable code of {ticket.number}" /></div>
		<p><strong>{data.view.modelLabel}</strong></p>
		<p>{ticket.customer?.name ?? ''}</p>
		<p>{ticket.promisedAt === null ? '' : `promised ${format.moment(ticket.promisedAt)}`}</p>
	{:else}
		<header class="mb-4 flex items-start justify-between gap-6 border-b-2 border-black pb-3">
			<div>
				<p class="text-lg font-bold">{data.shop.name}</p>
				<h1>{TITLES[data.what]} <span class="figure">{ticket.number}</span></h1>
				<p>Taken in {format.date(ticket.openedAt)}, {format.time(ticket.openedAt)}</p>
			</div>
			<div class="scan-code">
				<img src={data.code} alt="Scannable code of {ticket.number}" />
				<p class="figure text-center text-sm">{ticket.number}</p>
			</div>
		</header>
		<dl class="facts">
			<dt>Customer</dt>
			<dd>{ticket.customer?.name ?? '–'}{ticket.customer?.phone ? `, ${ticket.customer.phone}` : ''}</dd>
			<dt>Device</dt>
			<dd>{data.view.modelLabel}{ticket.serial ? `, ${ticket.serial}` : ''}</dd>
			{#if ticket.reported}<dt>Reported</dt>
				<dd>{ticket.reported}</dd>{/if}
			{#if signs.length > 0}<dt>
					{data.what === 'sheet' ? 'Symptoms, history and inspection' : 'What you told us and what we saw'}
				</dt>
				<dd>{signs.join('; ')}</dd>{/if}
			{#if ticket.condition}<dt>Condition</dt>
				<dd>{ticket.condition}</dd>{/if}
			{#if ticket.accessories}<dt>Accessories</dt>
				<dd>{ticket.accessories}</dd>{/if}
			<dt>Promised for</dt>
			<dd>{ticket.promisedAt === null ? 'no date' : format.moment(ticket.promisedAt)}</dd>
			{#if ticket.quotedMinor !== null && !standingOffer(ticket)}<dt>Price</dt>
				<dd class="font-semibold">
					{format.money(ticket.quotedMinor)}{ticket.accepted ? ', accepted' : ''}
				</dd>{/if}
			{#if ticket.paidMinor !== null && ticket.closedAt !== null}<dt>Paid</dt>
				<dd class="font-semibold">
					{format.money(ticket.paidMinor)}{#if data.shop.tax && taxOf(ticket) > 0}, {data.shop.tax.label} in it
						{format.money(taxOf(ticket))}{/if}
				</dd>{/if}
		</dl>
		{#if data.what === 'quote'}
			{#if ticket.quotedMinor === null}
				<p class="mt-4 font-semibold">No price is quoted yet. Quote one on the ticket first.</p>
			{:else}
				{#if offer}
					<ol class="mt-5 space-y-3">
						{#each offer.offer.offered as way, i (i)}
							<li class="border border-black px-3 py-2 {chosen === i ? 'border-4' : ''}">
								<p class="flex justify-between gap-4">
									<strong>{offer.offer.offered.length > 1 ? `${i + 1}. ` : ''}{way.label}</strong>
									<strong class="figure">{format.money(way.priceMinor)}</strong>
								</p>
								{#each wayWords(way, format) as words, k (k)}<p class="text-sm">{words}</p>{/each}
								{#if chosen === i}<p class="text-sm font-semibold">Chosen.</p>{/if}
							</li>
						{/each}
					</ol>
					<p class="mt-2">
						{#if offer.offer.depositMinor}Deposit: {format.money(offer.offer.depositMinor)}.{/if}
						{#if offer.offer.validUntil !== undefined}These prices are valid until {format.date(
								offer.offer.validUntil
							)}.{/if}
					</p>
				{:else}
					<p class="mt-5 text-2xl">
						For the repair: <strong class="figure">{format.money(ticket.quotedMinor)}</strong>
					</p>
				{/if}
				{#if data.shop.tax}<p class="mt-1 text-sm">
						All prices include {data.shop.tax.percent} % {data.shop.tax.label}{#if !offer}: {format.money(
								taxIn(ticket.quotedMinor, data.shop.tax.percent)
							)} of it, {format.money(ticket.quotedMinor - taxIn(ticket.quotedMinor, data.shop.tax.percent))} without{/if}.
					</p>{/if}
				{#if !offer}<p class="mt-2">
						{#if agreed.length > 0}The price is for: {agreed.join(' and ')}.{:else}Likely repair: {operations
								.map(({ label }) => label)
								.join('; or ') || 'to be found by diagnosis'}.{/if}
					</p>{/if}
				<p class="mt-2">
					If it cannot be repaired, we tell you before any further cost{data.shop.diagnosisFeeMinor > 0
						? `; the diagnosis costs ${format.money(data.shop.diagnosisFeeMinor)}`
						: ''}.
				</p>
				{#if offer?.answer?.signature}
					<svg viewBox="0 0 600 200" class="mt-6 h-24" role="img" aria-label="Signature"
						><path d={offer.answer.signature} fill="none" stroke="black" stroke-width="3" /></svg
					>
					<p class="border-t border-black pt-1">
						Accepted {offer.answer.at === undefined ? '' : format.date(offer.answer.at)}
					</p>
				{:else}
					<p class="mt-14 border-t border-black pt-1">Accepted: date and signature</p>
				{/if}
			{/if}
		{:else if data.what === 'receipt'}
			<p class="mt-5">
				Please bring this slip when you pick up the device. {ticket.matters === 'data'
					? 'Your data matters most: noted.'
					: ''} A passcode given to us is encrypted and deleted when the job is closed.
			</p>
			{#if data.own}
				<div class="mt-5 flex items-center gap-4">
					<img src={data.own.code} alt="Code of the device’s own page" class="w-28" />
					<div>
						<p class="font-semibold">Status online</p>
						<p>Scan the code with a phone. You can also answer an offer there.</p>
						<p class="figure text-xs break-all">{data.own.address}</p>
					</div>
				</div>
			{/if}
			<p class="mt-14 border-t border-black pt-1">Drop-off: date and signature</p>
		{:else if data.view.advice && data.view.bench}
			{@const { odds, plan } = data.view.advice}
			<div class="mt-4 grid grid-cols-2 gap-6">
				<section>
					<h2 class="text-black">
						Likely, from {odds.learnedFrom}
						{nounFor(odds.learnedFrom, 'closed ticket')}
					</h2>
					<ul>
						{#each odds.faults.slice(0, 4) as fault (fault.code)}<li class="flex justify-between">
								<span>{fault.label}</span><span class="figure">{percent(fault.probability)}</span>
							</li>{/each}
					</ul>
				</section>
				<section>
					<h2 class="text-black">Next</h2>
					<ol>
						{#each plan.steps as step, i (step.kind + step.code)}<li>
								{i + 1}. {step.label}{#if step.caution}<br /><strong>▲ {step.caution}</strong>{/if}
							</li>{/each}
					</ol>
				</section>
			</div>
			<h2 class="mt-4 text-black">So far</h2>
			<ul>
				{#each data.view.bench.trail as entry, i (i)}<li>
						<span class="figure text-sm">{format.moment(entry.at)} {entry.by ?? ''}</span>
						{entry.text}{entry.amountMinor === undefined ? '' : ` ${format.money(entry.amountMinor)}.`}
					</li>{/each}
			</ul>
			<h2 class="mt-4 text-black">Final checks</h2>
			<ul>
				{#each data.view.bench.gates as gate (gate.code)}<li>
						{gate.passed ? '☒' : '☐'}
						{gate.label}
					</li>{/each}
			</ul>
		{/if}
	{/if}
</main>

<style>
	.facts {
		display: grid;
		grid-template-columns: 9rem 1fr;
		gap: 3px 12px;
	}
	.facts dt {
		font-weight: 600;
	}
</style>
