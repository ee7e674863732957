<script lang="ts">
	import Field from '../ui/Field.svelte';
	import FoundAsTyped from '../ui/FoundAsTyped.svelte';
	import Problem from '../ui/Problem.svelte';
	import { useFormat } from '../ui/shop-context';
	import type { Intake } from './intake.svelte';

	interface Model {
		code: string;
		label: string;
		tickets: number;
	}
	let {
		intake,
		models,
		connectors,
		problem
	}: {
		intake: Intake;
		models: Model[];
		connectors: { code: string; label: string }[];
		problem: string | null | undefined;
	} = $props();
	const format = useFormat();
	const fields = $derived(intake.fields);
	const found = $derived.by(() => {
		const words = fields.model.toLowerCase().split(/\s+/).filter(Boolean);
		if (words.length === 0 || fields.modelCode) return [];
		return models
			.filter(({ label, code }) => words.every((word) => `${label} ${code}`.toLowerCase().includes(word)))
			.sort((a, b) => b.tickets - a.tickets)
			.slice(0, 8);
	});
	const isNew = $derived(fields.model.trim() !== '' && !fields.modelCode && found.length === 0);
</script>

<div class="grid gap-2 sm:grid-cols-[1.6fr_1fr]">
	<div>
		<FoundAsTyped
			id="model"
			label="Model"
			bind:text={intake.fields.model}
			items={found}
			keyOf={(model) => model.code}
			wordsOf={(model) => model.label}
			detailOf={(model) => `${model.tickets} closed`}
			onpick={(model) => (intake.fields.modelCode = model.code)}
			ontype={() => (intake.fields.modelCode = null)}
			invalid={Boolean(problem)}
			describedby="model-problem"
		/>
		<Problem id="model-problem" message={problem} />
	</div>
	<Field
		id="serial"
		label="Serial number or slip number"
		figure
		autocomplete="off"
		bind:value={intake.fields.serial}
		onblur={() => intake.lookBack()}
	/>
	{#if isNew}
		<Field
			id="connector"
			label="New model: its charging connector"
			bind:value={intake.fields.connector}
			select
			class="sm:col-span-2"
		>
			<option value="">not known yet</option>
			{#each connectors as { code, label } (code)}<option value={code}>{label}</option>{/each}
		</Field>
	{/if}
	{#if intake.visits.length > 0}
		<div class="sm:col-span-2">
			<p class="label">This device was here before. Is it back from one of these?</p>
			<ul>
				{#each intake.visits.slice(0, 4) as visit (visit.number)}
					<li class="flex items-center gap-2 border-b border-edge py-0.5 text-[0.93rem]">
						<span class="figure">{visit.number}</span>
						<span class="flex-1 text-ink-soft"
							>same {visit.why}, {visit.closedAt ? format.date(visit.closedAt) : 'open'}{visit.faults.length
								? `, ${visit.faults.join(', ')}`
								: ''}{#if visit.warranty}<br /><strong class="text-ink"
									>{visit.warranty.state === 'free'
										? '● '
										: visit.warranty.state === 'shared'
											? '◐ '
											: '○ '}{visit.warranty.words}</strong
								>{/if}</span
						>
						<button
							type="button"
							class="btn btn-small"
							aria-pressed={fields.comebackOf === visit.number}
							onclick={() => intake.comesBack(visit)}
							>comes back<span class="sr-only"> from {visit.number}</span></button
						>
					</li>
				{/each}
			</ul>
		</div>
	{/if}
</div>
