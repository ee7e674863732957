<script lang="ts">
	import { onMount } from 'svelte';
	import { settingsOf, STEP_LOOK } from '$lib/components/run/step-words';
	let { data } = $props();
	const stationLabel = (code: string) =>
		data.stations.find((station) => station.code === code)?.label ?? code;
	onMount(() => window.print());
</script>

<svelte:head><title>{data.procedure.label}</title></svelte:head>

<main class="paper">
	<button class="btn no-print mb-4" onclick={() => window.print()}>Print</button>
	<header class="mb-3 border-b-2 border-black pb-2">
		<p class="text-lg font-bold">{data.shop.name}</p>
		<h1>{data.procedure.label}</h1>
		<p>
			{data.operation}{data.procedure.school ? `, ${data.procedure.school}` : ''}, version {data.procedure
				.version}. {data.procedure.about ?? ''} The makers’ data and local rules come first.
		</p>
	</header>
	<ol>
		{#each data.procedure.steps as step, i (i)}
			<li class="flex gap-3 border-b border-[#999] py-1.5">
				<span class="size-5 shrink-0 border border-black"></span>
				<span class="figure w-6 shrink-0 text-right">{i + 1}</span>
				<span class="w-20 shrink-0">{STEP_LOOK[step.kind].mark} {STEP_LOOK[step.kind].word}</span>
				<span class="flex-1"
					><strong>{step.says}</strong>{step.must ? ' (must be answered)' : ''}
					{#if settingsOf(step, stationLabel).length > 0}<br />{settingsOf(step, stationLabel).join(
							' · '
						)}{/if}
					{#if step.protects}<br />Protects: {step.protects}{/if}</span
				>
			</li>
		{/each}
	</ol>
</main>
