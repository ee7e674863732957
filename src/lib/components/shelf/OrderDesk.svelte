<script lang="ts">
	import { enhance } from '$app/forms';
	import { nounFor } from '$lib/core/units/noun';
	import { useFormat } from '../ui/shop-context';
	import type { FormState, OpenOrder, Proposal } from './shelf-view';

	let {
		proposals,
		orders,
		form,
		manager,
		hands
	}: { proposals: Proposal[]; orders: OpenOrder[]; form: FormState; manager: boolean; hands: boolean } =
		$props();
	const format = useFormat();
	const wrong = (name: string) => (form?.form === name ? Object.entries(form.problems ?? {}) : []);
</script>

{#if manager}
	<section aria-labelledby="to-order">
		<h2 id="to-order">To order now</h2>
		{#if proposals.length === 0}<p class="text-ink-soft">
				Nothing to order: every part is above its reorder point.
			</p>{/if}
		{#each proposals as proposal (proposal.supplier)}
			<form method="POST" action="?/order" use:enhance class="mt-2">
				<h3>{proposal.label ?? 'No supplier'}</h3>
				<table class="ledger">
					<thead><tr><th>Part</th><th class="num">Pieces</th><th class="num">Cost</th></tr></thead>
					<tbody>
						{#each proposal.lines as line (line.sku)}
							<tr>
								<td
									><a class="link" href="?part={line.sku}">{line.label}</a>{#if line.earlyWeeks > 0}<span
											class="block text-sm text-ink-soft"
											>added to the order: due in {line.earlyWeeks.toFixed(line.earlyWeeks < 10 ? 1 : 0)} weeks</span
										>{/if}</td
								>
								<td class="num"
									>{#if proposal.supplier}<input
											class="field figure min-h-7 w-20 py-0 text-right"
											name="sku:{line.sku}"
											aria-label="Pieces of {line.label}"
											inputmode="decimal"
											defaultValue={line.quantity}
										/>{:else}{line.quantity}{/if}</td
								>
								<td class="num">{format.amount(line.costMinor)}</td>
							</tr>
						{/each}
					</tbody>
				</table>
				{#if proposal.supplier}
					<p class="mt-1 flex flex-wrap items-baseline gap-3">
						<input type="hidden" name="supplier" value={proposal.supplier} />
						<button class="btn btn-copper">Place order</button>
						<span class="figure">{format.amount(proposal.totalMinor)}</span>
						{#if proposal.underMinimumMinor !== null}<span class="text-sm text-short"
								>▼ {format.amount(proposal.underMinimumMinor)} below the supplier’s minimum order</span
							>{/if}
					</p>
				{:else}<p class="text-sm text-ink-soft">Add its supplier under Settings, Catalog.</p>{/if}
			</form>
		{/each}
		{#each wrong('order') as [field, message] (field)}
			<p role="alert" class="text-sm font-semibold text-short">{field} {message}</p>
		{/each}
	</section>
{/if}
<section class="mt-3" aria-labelledby="on-order">
	<h2 id="on-order">On order</h2>
	{#if orders.length === 0}<p class="text-ink-soft">No open order.</p>{/if}
	{#each orders as order (order.code)}
		<div class="mt-2">
			<h3 class="flex flex-wrap items-baseline gap-x-3">
				<span class="figure">{order.code}</span>{order.supplier}
				<span class="text-sm font-normal text-ink-soft"
					>{format.date(order.placedAt)}{order.expectedAt
						? `, expected ${format.date(order.expectedAt)}`
						: ''}</span
				>
				{#if manager}
					<a class="link ml-auto text-sm font-normal" href="/shelf/order/{order.code}" target="_blank"
						>print</a
					>
					<a class="link text-sm font-normal" href="/shelf/{order.code}.csv" download>download</a>
					<form method="POST" action="?/close" use:enhance>
						<input type="hidden" name="order" value={order.code} />
						<button class="link text-sm font-normal">Close order</button>
					</form>
				{/if}
			</h3>
			<ul>
				{#each order.lines as line, i (i)}
					<li class="flex flex-wrap items-center gap-2 border-b border-dotted border-edge py-1">
						<a class="link flex-1" href="?part={line.sku}">{line.label}</a>
						<span class="figure text-sm">{line.received} of {line.quantity}</span>
						{#if hands && line.received < line.quantity}
							<form method="POST" action="?/receive" use:enhance class="flex items-center gap-1">
								<input type="hidden" name="sku" value={line.sku} />
								<input type="hidden" name="order" value={order.code} />
								<input type="hidden" name="line" value={i} />
								<input
									class="field figure min-h-7 w-20 py-0 text-right"
									name="quantity"
									aria-label="Pieces of {line.label} received"
									inputmode="decimal"
									defaultValue={line.quantity - line.received}
								/>
								<button class="btn btn-small">Received</button>
							</form>
						{:else if line.received >= line.quantity}<span class="text-sm text-agrees">● received</span>{/if}
					</li>
				{/each}
			</ul>
		</div>
	{/each}
	{#if orders.length > 0}<p class="mt-1 text-sm text-ink-soft">
			{orders.length}
			{nounFor(orders.length, 'order')} open.
		</p>{/if}
</section>
