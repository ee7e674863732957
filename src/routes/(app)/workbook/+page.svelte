<script lang="ts">
	import ChargeTool from '$lib/components/workbook/ChargeTool.svelte';
	import HeatTool from '$lib/components/workbook/HeatTool.svelte';
	import JumperTool from '$lib/components/workbook/JumperTool.svelte';
	import MeterLog from '$lib/components/workbook/MeterLog.svelte';
	import OtherFaults from '$lib/components/workbook/OtherFaults.svelte';
	import PackTool from '$lib/components/workbook/PackTool.svelte';
	import StartPlan from '$lib/components/workbook/StartPlan.svelte';
	import SupplyTool from '$lib/components/workbook/SupplyTool.svelte';
	import type { ToolName } from './+page.server';

	let { data } = $props();
	const TOOLS: Record<ToolName, { title: string; question: string }> = {
		plan: { title: 'First steps', question: 'What to do first, and what next?' },
		log: { title: 'Meter log', question: 'What does a meter log show?' },
		jumper: { title: 'Jumper wire', question: 'How many wires for this current?' },
		charge: {
			title: 'Charge time',
			question: 'How long until normal current, and until full?'
		},
		pack: { title: 'Flat pack', question: 'Can this pack be woken, and what does its voltage mean?' },
		heat: { title: 'Alloy and heat', question: 'Which heat to start with for this joint?' },
		supply: { title: 'Supply', question: 'What can this supply deliver?' },
		others: { title: 'Other faults', question: 'Faults that have no code yet' }
	};
</script>

<svelte:head><title>{TOOLS[data.tool].title} · Workbook · Tavrek</title></svelte:head>

<div class="grid items-start gap-3 lg:grid-cols-[190px_minmax(0,1fr)]">
	<nav class="slip" aria-label="Workbook">
		<h1 class="mb-2">Workbook</h1>
		<ul>
			<li>
				<a href="/workbook/procedures" class="block border-b border-edge py-1.5">Procedures</a>
			</li>
			{#each Object.entries(TOOLS) as [tool, { title }] (tool)}
				<li>
					<a
						href="/workbook?tool={tool}"
						aria-current={tool === data.tool ? 'true' : undefined}
						class="block border-b border-edge py-1.5 {tool === data.tool
							? 'border-l-[5px] border-l-copper bg-wash pl-2 font-semibold'
							: ''}">{title}</a
					>
				</li>
			{/each}
		</ul>
	</nav>
	<section class="slip min-h-[70vh]" aria-labelledby="tool">
		<h2 id="tool" class="mb-3 text-[1.1rem] text-ink">{TOOLS[data.tool].question}</h2>
		{#if data.start}<StartPlan start={data.start} />
		{:else if data.others}<OtherFaults others={data.others} manager={data.user.role === 'manager'} />
		{:else if data.tool === 'log'}<MeterLog healthyAmps={null} />
		{:else if data.tool === 'jumper'}<JumperTool />
		{:else if data.tool === 'charge'}<ChargeTool />
		{:else if data.tool === 'pack'}<PackTool />
		{:else if data.tool === 'heat'}<HeatTool />
		{:else}<SupplyTool />{/if}
	</section>
</div>
