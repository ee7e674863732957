<script lang="ts">
	import { nounFor } from '$lib/core/units/noun';
	import Field from '../ui/Field.svelte';
	import { goto } from '$app/navigation';
	import type { StartPlan } from '$lib/server/workbook/start-plan';
	import { useFormat } from '../ui/shop-context';
	import PlanTree from './PlanTree.svelte';

	interface Choice {
		code: string;
		label: string;
	}
	/** The common start of a job: a model and what it does, as a tree of steps to print for the bench. */
	let {
		start
	}: {
		start: {
			models: Choice[];
			signs: Choice[];
			asked: { model: string; sign: string };
			plan: StartPlan | null;
		};
	} = $props();
	const format = useFormat();
	let working = $state(false);
	const asked = $derived(start.asked);

	async function ask(change: Partial<typeof start.asked>) {
		const { model, sign } = { ...asked, ...change };
		working = true;
		await goto(`/workbook?${new URLSearchParams({ tool: 'plan', model, sign })}`, {
			keepFocus: true,
			noScroll: true
		}).finally(() => (working = false));
	}
	const sheet = $derived(`/plan?${new URLSearchParams(asked)}`);
</script>

{#if start.models.length === 0 || start.signs.length === 0}
	<p class="text-ink-soft">
		The catalog has no {start.models.length === 0 ? 'model' : 'symptom'} yet. A manager can add one in Settings.
	</p>
{:else}
	<div class="mb-3 flex flex-wrap items-end gap-3">
		<Field
			id="plan-model"
			label="Model"
			value={asked.model}
			onchange={(event) => ask({ model: event.currentTarget.value })}
			select
		>
			{#each start.models as { code, label } (code)}<option value={code}>{label}</option>{/each}
		</Field>
		<Field
			id="plan-sign"
			label="Symptom"
			value={asked.sign}
			onchange={(event) => ask({ sign: event.currentTarget.value })}
			select
		>
			{#each start.signs as { code, label } (code)}<option value={code}>{label}</option>{/each}
		</Field>
		<a class="btn btn-copper" href={sheet} target="_blank" rel="noopener">Print for the bench</a>
		{#if working}<span class="text-ink-soft" role="status">Calculating…</span>{/if}
	</div>
	{#if start.plan}
		<p class="mb-2 text-[0.93rem] text-ink-soft">
			{#if start.plan.learnedFrom === 0}From starting chances only: no closed ticket yet.{:else}From
				<span class="figure">{start.plan.learnedFrom}</span>
				{nounFor(start.plan.learnedFrom, 'closed ticket')},
				<span class="figure">{start.plan.fromModel}</span> of this model.{/if}
			{#if start.plan.tree.costMinor !== undefined}On average
				<span class="figure">{format.amount(start.plan.tree.costMinor)}</span> to the end.{:else}On average
				<span class="figure">{Math.round(start.plan.tree.minutes)}</span> min bench time to the end.{/if}
		</p>
		<PlanTree tree={start.plan.tree} />
	{:else}
		<p class="text-ink-soft">The catalog has no such model or symptom. Choose from the lists.</p>
	{/if}
{/if}
