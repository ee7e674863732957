<script lang="ts">
	import { page } from '$app/state';
	import type { Shop } from '$lib/core/catalog/catalog';
	import { collectedAt, depositDue, dueOf, owedOf, paymentsOf } from '$lib/core/tickets/money';
	import { PAID_BY, SETTLED_BY } from '$lib/core/tickets/ticket-entries';
	import { amountProblem, parseAmount } from '$lib/core/units/money';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';

	/** What was paid and is owed, in parts and by kind; whether the customer has the device back. */
	const desk = useDesk();
	const format = useFormat();
	const shop = page.data.shop as Shop;
	const ticket = $derived(desk.view.ticket);
	const payments = $derived(paymentsOf(ticket));
	const owed = $derived(owedOf(ticket));
	const due = $derived(dueOf(ticket));
	const back = $derived(collectedAt(ticket));
	const deposit = $derived(depositDue(ticket));
	let refund = $state(false);
	const kinds = $derived(owed > 0 && !refund ? SETTLED_BY : PAID_BY);
	let by = $state<(typeof PAID_BY)[number] | null>(null);
	const chosen = $derived(
		by !== null && kinds.includes(by as never) ? by : (kinds[0] as (typeof PAID_BY)[number])
	);
	let typed = $state<string | null>(null);
	const usual = $derived(owed > 0 ? owed : deposit);
	const text = $derived(typed ?? (usual > 0 ? (usual / 100).toFixed(2) : ''));
	let problem = $state('');
	const HOW = { cash: 'cash', card: 'card', transfer: 'transfer', invoice: 'on an invoice' };

	async function take(event: SubmitEvent) {
		event.preventDefault();
		const amountMinor = parseAmount(text, shop.locale);
		if (amountMinor === null || amountMinor === 0) {
			problem =
				amountMinor === 0 ? 'The amount is 0; write one such as 20.00' : `The amount ${amountProblem(text)}`;
			return;
		}
		problem = '';
		const settles = owed > 0 && !refund && chosen !== 'invoice';
		const made = settles
			? await desk.send({ verb: 'settle', amountMinor, by: chosen as (typeof SETTLED_BY)[number] })
			: await desk.send({ verb: 'pay', amountMinor: refund ? -amountMinor : amountMinor, by: chosen });
		if (made) {
			typed = null;
			refund = false;
		}
	}
</script>

<section class="mt-4" aria-labelledby="payments-title">
	<div class="flex flex-wrap items-baseline gap-x-3">
		<h2 id="payments-title">Payments</h2>
		{#if owed > 0}<span
				class="font-semibold {due !== null && due < desk.view.now ? 'text-short' : 'text-copper'}"
				>{due !== null && due < desk.view.now ? '▲ overdue:' : 'owed:'}
				<span class="figure">{format.amount(owed)}</span>{due === null
					? ''
					: `, due ${format.date(due)}`}</span
			>{/if}
		{#if deposit > 0}<span class="font-semibold text-copper"
				>deposit of <span class="figure">{format.amount(deposit)}</span> not paid</span
			>{/if}
	</div>
	{#if payments.length > 0}
		<table class="ledger max-w-xl">
			<thead
				><tr
					><th>When</th><th>How</th><th class="num">Amount</th>{#if shop.tax}<th class="num"
							>{shop.tax.label} in it</th
						>{/if}</tr
				></thead
			>
			<tbody>
				{#each payments as payment, i (i)}
					<tr>
						<td class="whitespace-nowrap">{format.moment(payment.at)}</td>
						<td
							>{payment.settles ? 'invoice settled, ' : payment.amountMinor < 0 ? 'refund, ' : ''}{payment.by
								? HOW[payment.by]
								: 'method not recorded'}</td
						>
						<td class="num {payment.amountMinor < 0 ? 'text-short' : ''}"
							>{format.amount(payment.amountMinor)}</td
						>
						{#if shop.tax}<td class="num">{payment.settles ? '' : format.amount(payment.taxMinor)}</td>{/if}
					</tr>
				{/each}
			</tbody>
		</table>
	{:else}<p class="text-ink-soft">No payment yet.</p>{/if}
	<form class="mt-2 flex flex-wrap items-center gap-1.5" onsubmit={take}>
		<input
			class="field figure w-28"
			aria-label={refund ? 'Refund amount' : owed > 0 ? 'Amount to settle' : 'Amount received'}
			inputmode="decimal"
			placeholder="0.00"
			value={text}
			oninput={(event) => (typed = event.currentTarget.value)}
		/>
		{#each kinds as kind (kind)}
			<button type="button" class="btn btn-small" aria-pressed={chosen === kind} onclick={() => (by = kind)}
				>{HOW[kind]}</button
			>
		{/each}
		<button class="btn btn-small"
			>{refund ? 'Refund' : owed > 0 ? 'Settle the invoice' : 'Take the payment'}</button
		>
		<label class="flex items-center gap-1 text-sm"
			><input type="checkbox" class="size-4" bind:checked={refund} /> refund</label
		>
	</form>
	<p role="alert" class="text-sm font-semibold text-short empty:hidden">{problem}</p>
	{#if ticket.closedAt !== null}
		<p class="mt-3">
			{#if back !== null}● Picked up by the customer {format.moment(back)}.{:else}
				<button type="button" class="btn" onclick={() => desk.send({ verb: 'collect' })}
					>Picked up by the customer</button
				>
			{/if}
		</p>
	{/if}
</section>
