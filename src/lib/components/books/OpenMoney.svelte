<script lang="ts">
	import type { WarrantyReserve } from '$lib/core/ledger/warranty-reserve';
	import type { MoneyIn, OpenMoney, OwedInvoice } from '$lib/server/books/queries';
	import { nounFor } from '$lib/core/units/noun';
	import { useFormat } from '../ui/shop-context';

	let {
		open,
		owed,
		came,
		reserve,
		stock,
		today
	}: {
		open: OpenMoney;
		owed: OwedInvoice[];
		came: MoneyIn & { month: string };
		reserve: WarrantyReserve & { days: number };
		stock: { day: string; valueMinor: number } | null;
		today: string;
	} = $props();
	const format = useFormat();
	const now = Date.now();
	const KINDS = ['cash', 'card', 'transfer'] as const;
	const all = $derived(came.cash + came.card + came.transfer + came.unsaid);
</script>

<section class="slip" aria-labelledby="between">
	<h2 id="between" class="mb-1">Deposits and receivables</h2>
	<dl class="grid grid-cols-[minmax(0,1fr)_auto] gap-x-3 [&>dd]:text-right">
		<dt>Approved prices, {open.promises} open</dt>
		<dd class="figure">{format.amount(open.promisedMinor)}</dd>
		<dt>Deposits on open tickets</dt>
		<dd class="figure">{format.amount(open.depositsMinor)}</dd>
		<dt>
			Owed on {open.owed}
			{nounFor(open.owed, 'invoice')}{#if open.overdue > 0}, <strong class="text-short"
					>▲ {open.overdue} overdue</strong
				>{/if}
		</dt>
		<dd class="figure">{format.amount(open.owedMinor)}</dd>
		<dt>
			Warranty reserve ({reserve.days} days)
			<span class="block text-sm text-ink-soft"
				>{reserve.comebacks.toFixed(1)} comebacks of {reserve.underWarranty} under warranty, at
				<span class="figure">{format.amount(reserve.meanMinor)}</span> each, mean of {reserve.from}</span
			>
		</dt>
		<dd class="figure">
			{format.amount(reserve.expectedMinor)}<span class="block text-sm text-ink-soft"
				>{format.amount(reserve.lowMinor)} to {format.amount(reserve.highMinor)}</span
			>
		</dd>
		<dt>
			Received, {came.month}:
			<span class="block text-sm text-ink-soft"
				>{#each KINDS as kind, i (kind)}{i > 0 ? ', ' : ''}{kind}
					<span class="figure">{format.amount(came[kind])}</span>{/each}{#if came.unsaid !== 0}, method not
					recorded
					<span class="figure">{format.amount(came.unsaid)}</span>{/if}</span
			>
		</dt>
		<dd class="figure">{format.amount(all)}</dd>
	</dl>
	{#if owed.length > 0}
		<table class="ledger mt-2">
			<thead><tr><th>Owed</th><th>By</th><th>Due</th><th class="num">Amount</th></tr></thead>
			<tbody>
				{#each owed as invoice (invoice.number)}
					<tr>
						<td><a class="link figure" href="/tickets/{invoice.number}">{invoice.number}</a></td>
						<td>{invoice.customer ?? '–'}</td>
						<td class="whitespace-nowrap {invoice.dueAt !== null && invoice.dueAt < now ? 'text-short' : ''}"
							>{invoice.dueAt === null ? '–' : format.date(invoice.dueAt)}</td
						>
						<td class="num">{format.amount(invoice.owedMinor)}</td>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
	<form class="mt-2 flex flex-wrap items-end gap-2" method="GET" data-sveltekit-noscroll>
		<label class="text-sm" for="stock-day">Stock at the end of</label>
		<input
			id="stock-day"
			name="stock"
			class="field figure min-h-7 w-32 py-0"
			placeholder="2026-03-31"
			pattern="\d{'{4}'}-\d{'{2}'}-\d{'{2}'}"
			title="a day as 2026-03-31"
			value={stock?.day ?? today}
		/>
		<button class="btn btn-small">Show value</button>
		{#if stock}<span role="status"
				>was worth <strong class="figure">{format.money(stock.valueMinor)}</strong>, oldest lots used first.</span
			>{/if}
	</form>
</section>
