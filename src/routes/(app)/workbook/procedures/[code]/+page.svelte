<script lang="ts">
	import { tick, untrack } from 'svelte';
	import { enhance } from '$app/forms';
	import { dragHandle, dragHandleZone } from 'svelte-dnd-action';
	import Field from '$lib/components/ui/Field.svelte';
	import {
		blankStep,
		moved,
		procedureOf,
		typedProcedure,
		type TypedStep
	} from '$lib/components/procedures/procedure-draft';
	import StepFields from '$lib/components/procedures/StepFields.svelte';

	let { data, form } = $props();
	let typed = $state(untrack(() => typedProcedure(data.procedure)));
	// another version was chosen, or this one was saved
	let shown = untrack(() => data.procedure);
	$effect.pre(() => {
		if (data.procedure === shown) return;
		shown = data.procedure;
		typed = typedProcedure(data.procedure);
	});
	const newest = $derived(data.versions[0] ?? 0);
	const open = $derived(data.mayWrite && (data.procedure === null || data.procedure.version === newest));
	const plain = (codes: string[]) => codes.map((code) => ({ code, label: code }));
	const choices = $derived({
		gate: data.gates,
		sku: data.parts,
		station: data.stations,
		alloy: data.alloys,
		skill: plain(data.skills)
	});
	let list = $state<HTMLElement>();

	function sorted({ detail }: CustomEvent<{ items: TypedStep[] }>) {
		typed.steps = detail.items;
	}
	async function add(at: number) {
		typed.steps = [...typed.steps.slice(0, at), blankStep(), ...typed.steps.slice(at)];
		await tick();
		list?.querySelectorAll('textarea')[at]?.focus();
	}
	const drop = (at: number) => (typed.steps = typed.steps.filter((_, i) => i !== at));
	/** Alt with an arrow moves the step that is being written; Alt with Enter puts a new one behind it. */
	async function keys(event: KeyboardEvent, at: number) {
		if (!event.altKey) return;
		if (event.key === 'Enter') {
			event.preventDefault();
			await add(at + 1);
			return;
		}
		const to = at + ({ ArrowUp: -1, ArrowDown: 1 }[event.key] ?? 0);
		if (to === at || !typed.steps[to]) return;
		event.preventDefault();
		const field = (event.target as HTMLElement).tagName;
		typed.steps = moved(typed.steps, at, to);
		await tick();
		list?.querySelectorAll(`[data-step]`)[to]?.querySelector<HTMLElement>(field)?.focus();
	}
	const hands = $derived(
		typed.steps.reduce(
			(sum, { kind, minutes }) => sum + (kind === 'wait' ? 0 : Number(minutes.replace(',', '.')) || 0),
			0
		)
	);
</script>

<svelte:head><title>{data.procedure?.label ?? 'New procedure'} · Workbook · Tavrek</title></svelte:head>

<div class="slip mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
	<h1 class="flex-1">
		<a class="hover:underline" href="/workbook/procedures">Procedures</a> · {data.procedure?.label ?? 'new'}
	</h1>
	{#each data.versions as version (version)}
		<a
			class="btn btn-small"
			href="?version={version}"
			aria-current={version === data.procedure?.version ? 'true' : undefined}>version {version}</a
		>
	{/each}
	{#if data.procedure}<a class="btn btn-small" href="/procedures/{data.procedure.code}" target="_blank"
			>Print</a
		>{/if}
</div>
{#if form?.problems}
	<ul class="slip mb-3 font-semibold text-short" role="alert">
		{#each form.problems as problem (problem)}<li>✕ {problem}</li>{/each}
	</ul>
{/if}
{#if data.procedure && data.procedure.version !== newest}
	<p class="slip mb-3">
		This is an older version, kept for the tickets that followed it. Version {newest} is in use.
	</p>
{/if}
<form
	method="POST"
	use:enhance={() =>
		async ({ update }) =>
			update({ reset: false })}
>
	<input type="hidden" name="based" value={newest} />
	<input type="hidden" name="procedure" value={JSON.stringify(procedureOf(typed))} />
	<div class="slip mb-3 grid gap-2 sm:grid-cols-2 lg:grid-cols-4">
		<Field id="label" label="Name" bind:value={typed.label} disabled={!open} class="lg:col-span-2" />
		<Field id="operation" label="Repair" bind:value={typed.operation} select disabled={!open}>
			<option value="">choose</option>
			{#each data.operations as { code, label } (code)}<option value={code}>{label}</option>{/each}
		</Field>
		<Field
			id="school"
			label="Method"
			bind:value={typed.school}
			disabled={!open}
			placeholder="low melt, low heat"
		/>
		<Field
			id="about"
			label="When to use it"
			bind:value={typed.about}
			disabled={!open}
			class="lg:col-span-2"
		/>
		<Field
			id="models"
			label="Only for models"
			figure
			bind:value={typed.models}
			disabled={!open}
			hint="model codes. Default: all models."
		/>
		<label class="flex items-center gap-2 self-center"
			><input type="checkbox" class="size-5" bind:checked={typed.usual} disabled={!open} />default method for
			this repair</label
		>
		<label class="flex items-center gap-2 self-center"
			><input type="checkbox" class="size-5" bind:checked={typed.retired} disabled={!open} />retired</label
		>
	</div>
	<section class="slip" aria-labelledby="steps">
		<div class="mb-2 flex flex-wrap items-baseline justify-between gap-2">
			<h2 id="steps" class="text-ink">
				Steps, <span class="figure">{Math.round(hands)}</span> min bench time
			</h2>
			{#if open}<p class="text-sm text-ink-soft">
					Drag by the handle; <span class="key">Alt</span> <span class="key">↑</span>
					<span class="key">↓</span>
					moves,
					<span class="key">Alt</span> <span class="key">Enter</span> adds a step after it
				</p>{/if}
		</div>
		<ol
			bind:this={list}
			use:dragHandleZone={{
				items: typed.steps,
				flipDurationMs: 120,
				dragDisabled: !open,
				dropTargetStyle: {}
			}}
			onconsider={sorted}
			onfinalize={sorted}
		>
			{#each typed.steps as step, i (step.id)}
				<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
				<li
					class="flex gap-2 border-b border-edge bg-paper py-2"
					data-step
					onkeydown={(event) => keys(event, i)}
				>
					<span class="w-6 shrink-0 text-center">
						<span class="figure block text-sm">{i + 1}</span>
						{#if open}<span
								class="cursor-grab text-ink-soft select-none"
								use:dragHandle
								aria-label="Handle of step {i + 1}">⠿</span
							>{/if}
					</span>
					<div class="min-w-0 flex-1">
						<StepFields bind:step={typed.steps[i] as TypedStep} place={i + 1} {choices} {open} />
					</div>
					{#if open && typed.steps.length > 1}<button
							type="button"
							class="btn btn-small self-start"
							onclick={() => drop(i)}>Remove<span class="sr-only"> step {i + 1}</span></button
						>{/if}
				</li>
			{/each}
		</ol>
		{#if open}
			<div class="mt-3 flex gap-2">
				<button type="button" class="btn" onclick={() => add(typed.steps.length)}>Add a step</button>
				<button class="btn btn-copper">Save as version {newest + 1}</button>
			</div>
		{/if}
	</section>
</form>
