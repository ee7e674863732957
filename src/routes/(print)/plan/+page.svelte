<script lang="ts">
	import { nounFor } from '$lib/core/units/noun';
	import { onMount } from 'svelte';
	import PlanTree from '$lib/components/workbook/PlanTree.svelte';
	import { shopFormat } from '$lib/core/units/shop-format';
	let { data } = $props();
	const format = $derived(shopFormat(data.shop));
	onMount(() => window.print());
</script>

<svelte:head><title>First steps {data.plan.modelLabel}</title></svelte:head>

<main class="paper">
	<button class="btn no-print mb-4" onclick={() => window.print()}>Print</button>
	<header class="mb-4 border-b-2 border-black pb-3">
		<p class="text-lg font-bold">{data.shop.name}</p>
		<h1>First steps: {data.plan.modelLabel}, {data.plan.signLabel}</h1>
		<p>
			{format.date(data.now)}, from {data.plan.learnedFrom}
			{nounFor(data.plan.learnedFrom, 'closed ticket')}, {data.plan.fromModel} of this model. What is found on the
			device takes priority over this sheet.
		</p>
	</header>
	<PlanTree tree={data.plan.tree} />
</main>
