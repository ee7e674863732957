<script lang="ts">
	import { nounFor } from '$lib/core/units/noun';
	import OrderDesk from '$lib/components/shelf/OrderDesk.svelte';
	import PartPanel from '$lib/components/shelf/PartPanel.svelte';
	import type { FormState, ListedPart } from '$lib/components/shelf/shelf-view';
	import { useFormat } from '$lib/components/ui/shop-context';
	let { data, form: answered } = $props();
	const format = useFormat();
	const form = $derived(answered as FormState);
	const manager = $derived(data.user.role === 'manager');
	const hands = $derived(data.user.role !== 'counter');
	const low = $derived(data.parts.filter((part) => part.low).length);
	const tenth = (value: number) => (value === 0 ? '0' : value.toFixed(value < 10 ? 1 : 0));
	/** what falls to its point first, then what is used most */
	const listed = $derived(
		[...data.parts].sort(
			(a, b) =>
				Number(b.low) - Number(a.low) || b.perWeek.mean - a.perWeek.mean || (a.label < b.label ? -1 : 1)
		)
	);
	const stateOf = ({ low, missed, slow }: ListedPart) =>
		missed ? '▼ count it' : low ? '▲ order' : slow ? '◇ slow' : '';
	const slow = $derived(data.parts.filter((part) => part.slow).length);
</script>

<svelte:head><title>Shelf · Tavrek</title></svelte:head>

<div class="slip mb-3 flex flex-wrap items-baseline gap-x-9 gap-y-2">
	<h1>Shelf</h1>
	{#if data.valueMinor !== null}<p>
			<span class="figure text-2xl">{format.money(data.valueMinor)}</span>
			<span class="text-ink-soft">stock value</span>
		</p>{/if}
	<p>
		<span class="figure text-lg {low > 0 ? 'text-copper' : ''}">{low}</span>
		<span class="text-ink-soft">{nounFor(low, 'part')} to order</span>
	</p>
	<p>
		<span class="figure text-lg">{tenth(data.waiting)}</span>
		<span class="text-ink-soft">{nounFor(data.waiting, 'piece')} on order</span>
	</p>
	{#if slow > 0}<p title="received and last used more than six months ago">
			<span class="figure text-lg">{data.slowMinor === null ? slow : format.amount(data.slowMinor)}</span>
			<span class="text-ink-soft"
				>{data.slowMinor === null
					? nounFor(slow, 'slow part')
					: `tied up in ${slow} slow ${nounFor(slow, 'part')}`}</span
			>
		</p>{/if}
	<p class="text-sm text-ink-soft">
		{#if manager}<a class="link" href="/shelf/parts.csv" download>Download</a>.{/if}
		Reorder points aim at {Math.round(100 * data.service)} % availability.
	</p>
	<p role="status" id="shelf-done" class="w-full font-semibold text-agrees empty:hidden">
		{form?.done ?? ''}
	</p>
</div>
{#if data.parts.length === 0}
	<p class="slip text-ink-soft">
		No part in the catalog yet. {manager
			? 'Add what you use under Settings, Catalog.'
			: 'The manager adds them.'}
	</p>
{:else}
	<div class="grid grid-cols-[minmax(0,1fr)] items-start gap-3 lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
		<div class="grid grid-cols-[minmax(0,1fr)] gap-3">
			<section class="slip relative overflow-x-auto" aria-label="Parts">
				<table class="ledger">
					<thead
						><tr
							><th>Part</th><th class="num">On hand</th><th class="num" title="needed by approved jobs"
								>Reserved</th
							><th class="num">On order</th><th class="num">Used a week</th><th class="num">Reorder at</th><th
								class="num">Order</th
							>{#if data.valueMinor !== null}<th class="num">Value</th>{/if}</tr
						></thead
					>
					<tbody>
						{#each listed as part (part.sku)}
							<tr class={part.sku === data.chosen?.sku ? 'bg-wash' : ''}>
								<td
									><a
										class="link"
										href="?part={part.sku}"
										data-sveltekit-noscroll
										aria-current={part.sku === data.chosen?.sku ? 'true' : undefined}>{part.label}</a
									>{#if stateOf(part)}<span
											class="block text-sm font-semibold {part.missed ? 'text-short' : 'text-copper'}"
											>{stateOf(part)}</span
										>{/if}</td
								>
								<td class="num">{part.onHand}</td>
								<td class="num">{part.reserved || ''}</td>
								<td class="num">{part.onOrder || ''}</td>
								<td class="num">{part.fill === null ? '–' : tenth(part.perWeek.mean)}</td>
								<td class="num">{part.reorderAt ?? '–'}</td>
								<td class="num">{part.reorderAt === null ? '–' : part.orderQuantity}</td>
								{#if part.valueMinor !== null}<td class="num">{format.amount(part.valueMinor)}</td>{/if}
							</tr>
						{/each}
					</tbody>
				</table>
			</section>
			<section class="slip">
				<OrderDesk proposals={data.proposals} orders={data.orders} {form} {manager} {hands} />
			</section>
		</div>
		<section class="slip">
			{#if data.chosen}
				{#key data.chosen.sku + (data.scanned ?? '')}<PartPanel
						part={data.chosen}
						{form}
						{hands}
						scanned={data.scanned}
					/>{/key}
			{:else}<p class="text-ink-soft">Choose a part to see its lots, receive pieces and count stock.</p>{/if}
		</section>
	</div>
{/if}
