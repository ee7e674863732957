<script lang="ts">
	import { onMount } from 'svelte';
	import { shopFormat } from '$lib/core/units/shop-format';
	let { data } = $props();
	const format = $derived(shopFormat(data.shop));
	const total = $derived(
		(data.order?.lines ?? []).reduce(
			(sum, { quantity, unitMinor }) => sum + Math.round(quantity * (unitMinor ?? 0)),
			0
		)
	);
	onMount(() => window.print());
</script>

<svelte:head><title>{data.lot?.code ?? data.order?.code}</title></svelte:head>

<main class="paper {data.lot ? 'label-paper' : ''}">
	<button class="btn no-print mb-4" onclick={() => window.print()}>Print</button>
	{#if data.lot}
		<p class="figure text-2xl font-semibold">{data.lot.code}</p>
		<div class="scan-code"><img src={data.scan} alt="Scannable code of {data.lot.code}" /></div>
		<p><strong>{data.lot.label}</strong></p>
		<p class="text-sm">
			<span class="figure">{data.lot.sku}</span>{data.lot.source ? `, ${data.lot.source}` : ''}, {format.date(
				data.lot.receivedAt
			)}
		</p>
	{:else if data.order}
		<header class="mb-4 flex items-start justify-between gap-6 border-b-2 border-black pb-3">
			<div>
				<p class="text-lg font-bold">{data.shop.name}</p>
				<h1>Order <span class="figure">{data.order.code}</span></h1>
				<p>To {data.order.supplier}, {format.date(data.order.placedAt)}</p>
			</div>
			<div class="scan-code"><img src={data.scan} alt="Scannable code of {data.order.code}" /></div>
		</header>
		<table class="ledger">
			<thead
				><tr
					><th>Stock code</th><th>Part</th><th class="num">Pieces</th><th class="num">Each</th><th class="num"
						>Together</th
					></tr
				></thead
			>
			<tbody>
				{#each data.order.lines as line, i (i)}
					<tr>
						<td class="figure">{line.sku}</td>
						<td>{line.label}</td>
						<td class="num">{line.quantity}</td>
						<td class="num">{line.unitMinor === null ? '–' : format.amount(line.unitMinor)}</td>
						<td class="num"
							>{line.unitMinor === null ? '–' : format.amount(line.quantity * line.unitMinor)}</td
						>
					</tr>
				{/each}
			</tbody>
		</table>
		<p class="mt-2 text-right">Together <strong class="figure">{format.money(total)}</strong></p>
	{/if}
</main>
