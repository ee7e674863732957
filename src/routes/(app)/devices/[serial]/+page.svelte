<script lang="ts">
	import { nounFor } from '$lib/core/units/noun';
	import { useFormat } from '$lib/components/ui/shop-context';
	let { data } = $props();
	const format = useFormat();
	const toned = (minor: number) => (minor < 0 ? 'text-short' : '');
</script>

<svelte:head><title>{data.serial} · Tavrek</title></svelte:head>

<div class="slip mb-3 flex flex-wrap items-baseline gap-x-9 gap-y-2">
	<h1>{data.model} <span class="figure">{data.serial}</span></h1>
	<p>
		<span class="figure text-lg">{data.visits.length}</span>
		<span class="text-ink-soft">{nounFor(data.visits.length, 'visit')}</span>
	</p>
	{#if data.total}
		<p>
			<span class="figure text-2xl {toned(data.total.profitMinor)}"
				>{format.money(data.total.profitMinor)}</span
			>
			<span class="text-ink-soft">profit over all visits</span>
		</p>
		<p>
			<span class="figure text-lg">{format.amount(data.total.paidMinor)}</span>
			<span class="text-ink-soft">paid</span>
		</p>
		<p>
			<span class="figure text-lg">{format.amount(data.total.partsMinor + data.total.labourMinor)}</span>
			<span class="text-ink-soft">parts and labour</span>
		</p>
	{/if}
</div>
<section class="slip overflow-x-auto" aria-label="Visits">
	<table class="ledger">
		<thead
			><tr
				><th>Number</th><th>Received</th><th>Customer</th><th>What was wrong</th><th>What was done</th><th
					class="num">Min</th
				>{#if data.total}<th class="num">Paid</th><th class="num">Parts</th><th class="num">Labour</th><th
						class="num">Profit</th
					>{/if}</tr
			></thead
		>
		<tbody class="align-top">
			{#each data.visits as visit (visit.number)}
				<tr>
					<td
						><a class="link figure" href="/tickets/{visit.number}">{visit.number}</a
						>{#if visit.comebackOf}<span class="block text-sm text-ink-soft"
								>comes back from <span class="figure">{visit.comebackOf}</span></span
							>{/if}</td
					>
					<td class="whitespace-nowrap">{format.date(visit.openedAt)}</td>
					<td>{visit.customer ?? '–'}</td>
					<td
						>{visit.faults.join(', ') || '–'}<span class="block text-sm text-ink-soft"
							>{visit.closedAt === null ? 'open' : visit.outcome}</span
						></td
					>
					<td>
						{#each visit.operations as { label, resolved }, i (i)}
							<span class="block"
								>{label}
								<span class={resolved ? 'text-agrees' : 'text-ink-soft'}
									>{resolved ? '● gone' : '… not yet'}</span
								></span
							>
						{:else}–{/each}
					</td>
					<td class="num">{Math.round(visit.minutes)}</td>
					{#if visit.books}
						<td class="num">{format.amount(visit.books.paidMinor)}</td>
						<td class="num">{format.amount(visit.books.partsMinor)}</td>
						<td class="num">{format.amount(visit.books.labourMinor)}</td>
						<td class="num {toned(visit.books.profitMinor)}">{format.amount(visit.books.profitMinor)}</td>
					{/if}
				</tr>
			{/each}
		</tbody>
	</table>
	{#if data.total}<p class="mt-1 text-sm text-ink-soft">
			The cost of a comeback is charged to the ticket of the first repair.
		</p>{/if}
</section>
