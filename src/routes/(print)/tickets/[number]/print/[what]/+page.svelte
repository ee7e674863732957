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
	import * as words from '$lib/core/words/compiled/messages.js';
	import { customerLanguage } from '$lib/core/words/customer-language';
	let { data } = $props();
	const ticket = $derived(data.view.ticket);
	/** paper for the customer is in their language; the job sheet is the bench's */
	const reads = $derived(
		data.what === 'sheet'
			? ({ language: 'en', locale: data.shop.locale } as const)
			: customerLanguage(ticket.customer?.language, data.shop.locale)
	);
	const locale = $derived({ locale: reads.language });
	const format = $derived(shopFormat({ ...data.shop, locale: reads.locale }));
	const and = $derived(new Intl.ListFormat(reads.language));
	const title = $derived(
		{
			sheet: 'Job sheet',
			receipt: words.paper_slip({}, locale),
			label: words.paper_tag({}, locale),
			quote: words.paper_quote({}, locale)
		}[data.what]
	);
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
	const or = $derived(new Intl.ListFormat(reads.language, { type: 'disjunction' }));
	/** the tax in all prices; of one price how much */
	const taxWords = ({ percent: rate, label }: NonNullable<typeof data.shop.tax>, priceMinor: number) => {
		const shown = { percent: rate.toLocaleString(reads.locale), tax: label };
		if (offer) return words.paper_all_prices(shown, locale);
		const taxMinor = taxIn(priceMinor, rate);
		return words.paper_price_tax(
			{ ...shown, taxAmount: format.money(taxMinor), net: format.money(priceMinor - taxMinor) },
			locale
		);
	};
	onMount(() => window.print());
</script>

<svelte:head><title>{title} {ticket.number}</title></svelte:head>

<main lang={reads.language} class="paper {data.what === 'label' ? 'label-paper' : ''}">
	<button class="btn no-print mb-4" onclick={() => window.print()}>{words.paper_print({}, locale)}</button>
	{#if data.what === 'label'}
		<p class="figure text-2xl font-semibold">{ticket.number}</p>
		<div class="scan-code">
			<img src={data.code} alt={words.paper_code_of({ number: ticket.number }, locale)} />
		</div>
		<p><strong>{data.view.modelLabel}</strong></p>
		<p>{ticket.customer?.name ?? ''}</p>
		<p>
			{ticket.promisedAt === null
				? ''
				: words.paper_promised({ moment: format.moment(ticket.promisedAt) }, locale)}
		</p>
	{:else}
		<header class="mb-4 flex items-start justify-between gap-6 border-b-2 border-black pb-3">
			<div>
				<p class="text-lg font-bold">{data.shop.name}</p>
				<h1>{title} <span class="figure">{ticket.number}</span></h1>
				<p>
					{words.paper_taken_in(
						{ moment: `${format.date(ticket.openedAt)}, ${format.time(ticket.openedAt)}` },
						locale
					)}
				</p>
			</div>
			<div class="scan-code">
				<img src={data.code} alt={words.paper_code_of({ number: ticket.number }, locale)} />
				<p class="figure text-center text-sm">{ticket.number}</p>
			</div>
		</header>
		<dl class="facts">
			<dt>{words.paper_customer({}, locale)}</dt>
			<dd>{ticket.customer?.name ?? '–'}{ticket.customer?.phone ? `, ${ticket.customer.phone}` : ''}</dd>
			<dt>{words.paper_device({}, locale)}</dt>
			<dd>{data.view.modelLabel}{ticket.serial ? `, ${ticket.serial}` : ''}</dd>
			{#if ticket.reported}<dt>{words.paper_reported({}, locale)}</dt>
				<dd>{ticket.reported}</dd>{/if}
			{#if signs.length > 0}<dt>
					{data.what === 'sheet' ? 'Symptoms, history and inspection' : words.paper_seen({}, locale)}
				</dt>
				<dd>{signs.join('; ')}</dd>{/if}
			{#if ticket.condition}<dt>{words.paper_condition({}, locale)}</dt>
				<dd>{ticket.condition}</dd>{/if}
			{#if ticket.accessories}<dt>{words.paper_accessories({}, locale)}</dt>
				<dd>{ticket.accessories}</dd>{/if}
			<dt>{words.paper_promised_for({}, locale)}</dt>
			<dd>
				{ticket.promisedAt === null ? words.paper_no_date({}, locale) : format.moment(ticket.promisedAt)}
			</dd>
			{#if ticket.quotedMinor !== null && !standingOffer(ticket)}<dt>{words.paper_price({}, locale)}</dt>
				<dd class="font-semibold">
					{ticket.accepted
						? words.paper_price_accepted({ amount: format.money(ticket.quotedMinor) }, locale)
						: format.money(ticket.quotedMinor)}
				</dd>{/if}
			{#if ticket.paidMinor !== null && ticket.closedAt !== null}<dt>{words.paper_paid({}, locale)}</dt>
				<dd class="font-semibold">
					{data.shop.tax && taxOf(ticket) > 0
						? words.paper_paid_with_tax(
								{
									amount: format.money(ticket.paidMinor),
									tax: data.shop.tax.label,
									taxAmount: format.money(taxOf(ticket))
								},
								locale
							)
						: format.money(ticket.paidMinor)}
				</dd>{/if}
		</dl>
		{#if data.what === 'quote'}
			{#if ticket.quotedMinor === null}
				<p class="mt-4 font-semibold">{words.paper_no_quote({}, locale)}</p>
			{:else}
				{#if offer}
					<ol class="mt-5 space-y-3">
						{#each offer.offer.offered as way, i (i)}
							<li class="border border-black px-3 py-2 {chosen === i ? 'border-4' : ''}">
								<p class="flex justify-between gap-4">
									<strong>{offer.offer.offered.length > 1 ? `${i + 1}. ` : ''}{way.label}</strong>
									<strong class="figure">{format.money(way.priceMinor)}</strong>
								</p>
								{#each wayWords(way, { ...format, language: reads.language }) as words, k (k)}<p
										class="text-sm"
									>
										{words}
									</p>{/each}
								{#if chosen === i}<p class="text-sm font-semibold">{words.paper_chosen({}, locale)}</p>{/if}
							</li>
						{/each}
					</ol>
					<p class="mt-2">
						{#if offer.offer.depositMinor}{words.page_deposit(
								{ amount: format.money(offer.offer.depositMinor) },
								locale
							)}{/if}
						{#if offer.offer.validUntil !== undefined}{words.offer_valid_until(
								{ date: format.date(offer.offer.validUntil) },
								locale
							)}{/if}
					</p>
				{:else}
					<p class="mt-5 text-2xl">
						{words.paper_for_repair({ amount: format.money(ticket.quotedMinor) }, locale)}
					</p>
				{/if}
				{#if data.shop.tax}<p class="mt-1 text-sm">
						{taxWords(data.shop.tax, ticket.quotedMinor)}
					</p>{/if}
				{#if !offer}<p class="mt-2">
						{agreed.length > 0
							? words.paper_price_is_for({ repairs: and.format(agreed) }, locale)
							: words.paper_likely_repair(
									{
										repairs:
											or.format(operations.map(({ label }) => label)) || words.paper_by_diagnosis({}, locale)
									},
									locale
								)}
					</p>{/if}
				<p class="mt-2">
					{data.shop.diagnosisFeeMinor > 0
						? words.paper_if_not_fee({ amount: format.money(data.shop.diagnosisFeeMinor) }, locale)
						: words.paper_if_not({}, locale)}
				</p>
				{#if offer?.answer?.signature}
					<svg
						viewBox="0 0 600 200"
						class="mt-6 h-24"
						role="img"
						aria-label={words.paper_signature({}, locale)}
						><path d={offer.answer.signature} fill="none" stroke="black" stroke-width="3" /></svg
					>
					<p class="border-t border-black pt-1">
						{words.paper_accepted_on(
							{ date: offer.answer.at === undefined ? '' : format.date(offer.answer.at) },
							locale
						)}
					</p>
				{:else}
					<p class="mt-14 border-t border-black pt-1">{words.paper_accepted_sign({}, locale)}</p>
				{/if}
			{/if}
		{:else if data.what === 'receipt'}
			<p class="mt-5">
				{words.paper_bring({}, locale)}
				{ticket.matters === 'data' ? words.paper_data_matters({}, locale) : ''}
				{words.paper_passcode({}, locale)}
			</p>
			{#if data.own}
				<div class="mt-5 flex items-center gap-4">
					<img src={data.own.code} alt={words.paper_page_code({}, locale)} class="w-28" />
					<div>
						<p class="font-semibold">{words.paper_status_online({}, locale)}</p>
						<p>{words.paper_scan({}, locale)}</p>
						<p class="figure text-xs break-all">{data.own.address}</p>
					</div>
				</div>
			{/if}
			<p class="mt-14 border-t border-black pt-1">{words.paper_drop_off_sign({}, locale)}</p>
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
