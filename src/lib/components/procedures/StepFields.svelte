<script lang="ts">
	import { STEP_KINDS, STEP_WAITS } from '$lib/core/catalog/kinds-of-bench';
	import { STEP_LOOK } from '../run/step-words';
	import { FIELDS_OF, type TypedStep } from './procedure-draft';

	interface Choice {
		code: string;
		label: string;
	}
	/** One step while it is written: what it says in one line, what it needs in the next. */
	let {
		step = $bindable(),
		place,
		choices,
		open
	}: {
		step: TypedStep;
		place: number;
		choices: Record<'gate' | 'sku' | 'station' | 'alloy' | 'skill', Choice[]>;
		open: boolean;
	} = $props();
	/** all that this kind of step may say, or what it says already and what it cannot be without */
	let all = $state(false);
	const NEEDED = ['gate', 'sku', 'wait', 'celsius'];
	const fields = $derived(
		FIELDS_OF[step.kind].filter((field) => all || step[field] !== '' || NEEDED.includes(field))
	);
	const more = $derived(FIELDS_OF[step.kind].length > fields.length);
	const LABELS = {
		celsius: '°C',
		air: 'Air, %',
		tool: 'Tool',
		protects: 'Protects',
		undoes: 'Checks to repeat',
		quantity: 'How many'
	} as const;
	const CHOSEN = { alloy: 'Alloy', skill: 'Skill', station: 'Station', gate: 'Check', sku: 'Part' } as const;
</script>

<div class="flex flex-wrap items-start gap-1.5">
	<label class="w-28">
		<span class="sr-only">Kind of step {place}</span>
		<select class="field {STEP_LOOK[step.kind].tone}" bind:value={step.kind} disabled={!open}>
			{#each STEP_KINDS as kind (kind)}<option value={kind}
					>{STEP_LOOK[kind].mark} {STEP_LOOK[kind].word}</option
				>{/each}
		</select>
	</label>
	<textarea
		class="field min-w-52 flex-1"
		rows={Math.max(1, Math.ceil(step.says.length / 70))}
		aria-label="What step {place} says"
		maxlength={500}
		bind:value={step.says}
		disabled={!open}></textarea>
	<label class="flex items-center gap-1"
		><input
			class="field figure w-16"
			inputmode="decimal"
			aria-label="Minutes of step {place}"
			bind:value={step.minutes}
			disabled={!open}
		/><span class="text-sm text-ink-soft">min</span></label
	>
	<label class="flex min-h-[34px] items-center gap-1 text-sm"
		><input type="checkbox" class="size-5" bind:checked={step.must} disabled={!open} />required<span
			class="sr-only">, step {place}</span
		></label
	>
</div>
{#if fields.length > 0 || more}
	<div class="mt-1 ml-[7.4rem] flex flex-wrap gap-1.5">
		{#each fields as field (field)}
			{#if field in CHOSEN}
				{@const list = choices[field as keyof typeof choices]}
				<label class="text-sm text-ink-soft"
					>{CHOSEN[field as keyof typeof CHOSEN]}
					<select
						class="field w-44"
						aria-label="{CHOSEN[field as keyof typeof CHOSEN]} of step {place}"
						bind:value={step[field as 'alloy']}
						disabled={!open}
					>
						<option value="">–</option>
						{#each list as { code, label } (code)}<option value={code}>{label}</option>{/each}
					</select></label
				>
			{:else if field === 'wait'}
				<label class="text-sm text-ink-soft"
					>For
					<select
						class="field w-36"
						aria-label="What step {place} waits for"
						bind:value={step.wait}
						disabled={!open}
					>
						<option value="">–</option>
						{#each STEP_WAITS as wait (wait)}<option value={wait}>{wait}</option>{/each}
					</select></label
				>
			{:else}
				{@const number = ['celsius', 'air', 'quantity'].includes(field)}
				<label class="text-sm text-ink-soft"
					>{LABELS[field as keyof typeof LABELS]}
					<input
						class="field {number ? 'figure w-20' : 'w-44'}"
						inputmode={number ? 'decimal' : 'text'}
						aria-label="{LABELS[field as keyof typeof LABELS]} of step {place}"
						bind:value={step[field as 'tool']}
						disabled={!open}
					/></label
				>
			{/if}
		{/each}
		{#if more && open}<button type="button" class="link text-sm" onclick={() => (all = true)}
				>more<span class="sr-only"> of step {place}</span></button
			>{/if}
	</div>
{/if}
