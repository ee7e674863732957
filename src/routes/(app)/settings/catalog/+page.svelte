<script lang="ts">
	import { enhance } from '$app/forms';
	import PortFace from '$lib/components/ticket/PortFace.svelte';
	import { formFromRecord, recordFromForm } from '$lib/core/catalog/form-fields';
	import { CATALOG_KINDS, catalogKind, FORM_KINDS } from '$lib/core/catalog/kinds';
	import Field from '$lib/components/ui/Field.svelte';
	import Problem from '$lib/components/ui/Problem.svelte';
	let { data, form } = $props();
	const description = $derived(catalogKind(data.kind).form!);
	const fields = $derived(description.fields);
	/** key of the entry in the form; null for a new one */
	let chosen = $state<string | null>(null);
	$effect.pre(() => {
		if (data.kind) chosen = null;
	});
	const entry = $derived(data.entries.find(({ key }) => key === chosen));
	const values = $derived<Record<string, string>>(
		form?.kept ?? (entry ? formFromRecord(fields, entry.record) : {})
	);
	const problems = $derived<Record<string, string>>(form?.problems ?? {});
	/** what of an entry is short enough for a row */
	const columns = $derived(fields.filter(({ sort }) => sort.look !== 'lines').slice(0, 4));
	/** the contacts as they are typed, to draw the port from */
	let typedPins = $state<string | null>(null);
	const drawn = $derived.by(() => {
		const { schema, form } = CATALOG_KINDS.connector;
		const typed = recordFromForm(
			'connector',
			form!.fields,
			{ ...values, pins: typedPins ?? values.pins ?? '' },
			null
		);
		const parsed = schema.safeParse({
			code: 'drawn',
			label: 'drawn',
			...typed,
			...(typed.code ? {} : { code: 'drawn' }),
			...(typed.label ? {} : { label: 'drawn' })
		});
		return parsed.success ? parsed.data : null;
	});
	let editor = $state<HTMLElement>();
	function edit(key: string | null) {
		chosen = key;
		typedPins = null;
		form = null;
		editor?.querySelector('input')?.focus();
	}
</script>

<svelte:head><title>Catalog · Tavrek</title></svelte:head>

<div
	class="grid items-start gap-3 {data.kind === 'connector' || data.kind === 'model'
		? 'lg:grid-cols-[150px_minmax(0,1fr)_minmax(0,1.1fr)]'
		: 'lg:grid-cols-[170px_minmax(0,1fr)_360px]'}"
>
	<nav class="slip" aria-label="Kinds">
		<h1 class="mb-1">Catalog</h1>
		{#each FORM_KINDS as kind (kind)}
			<a
				href="/settings/catalog?kind={kind}"
				aria-current={kind === data.kind ? 'true' : undefined}
				class="block border-b border-edge py-1 {kind === data.kind
					? 'border-l-[5px] border-l-copper bg-wash pl-2 font-semibold'
					: ''}">{catalogKind(kind).form?.title}</a
			>
		{/each}
	</nav>
	<section class="slip overflow-x-auto" aria-label={description.title}>
		<table class="ledger">
			<thead
				><tr
					>{#each columns as column (column.name)}<th class={column.sort.figure ? 'num' : ''}
							>{column.label}</th
						>{/each}<th><span class="sr-only">Do</span></th></tr
				></thead
			>
			<tbody>
				{#each data.entries as { key, record } (key)}
					{@const texts = formFromRecord(fields, record)}
					<tr class={key === chosen ? 'bg-wash' : ''}>
						{#each columns as column, i (column.name)}<td
								class="{column.sort.figure ? 'num' : ''} {i === 0 ? 'figure text-sm' : ''}"
								><span class="line-clamp-2">{texts[column.name]}</span></td
							>{/each}
						<td class="text-right"
							><button class="link text-sm" onclick={() => edit(key)}
								>edit<span class="sr-only"> {key}</span></button
							></td
						>
					</tr>
				{:else}
					<tr
						><td colspan="5" class="text-ink-soft"
							>None yet. Add the first one here, or import a file under Shop and data.</td
						></tr
					>
				{/each}
			</tbody>
		</table>
	</section>
	<section class="slip" aria-labelledby="edit-title" bind:this={editor}>
		<div class="mb-2 flex items-baseline justify-between">
			<h2 id="edit-title" class="text-base text-ink">{chosen ? `Change ${chosen}` : 'Add'}</h2>
			{#if chosen}<button class="link text-sm" onclick={() => edit(null)}>Add a new one instead</button>{/if}
		</div>
		<form
			method="POST"
			action="?/save&kind={data.kind}"
			class="grid gap-2.5"
			use:enhance={() =>
				({ update, result }) =>
					update({ reset: result.type === 'success' && !chosen })}
		>
			<input type="hidden" name="version" value={entry?.version ?? ''} />
			{#each fields as field, i (data.kind + field.name)}
				{@const common = {
					id: `f-${field.name}`,
					label: `${field.label}${field.optional ? ' (optional)' : ''}`,
					name: field.name,
					hint: field.hint,
					error: problems[field.name] ?? null
				}}
				{#if field.sort.look === 'choice'}
					<Field {...common} value={values[field.name] ?? ''} select>
						{#if field.optional}<option value="">not said</option>{/if}
						{#each field.sort.choices ?? [] as choice (choice)}<option>{choice}</option>{/each}
					</Field>
				{:else if field.sort.look === 'lines'}
					<Field
						{...common}
						figure
						look="text-sm"
						rows={field.sort.rows ?? 3}
						oninput={field.sort.draws ? (e) => (typedPins = e.currentTarget.value) : undefined}
						value={values[field.name] ?? ''}
					>
						{#if field.sort.draws}
							{#if drawn}
								<div class="mt-1.5" aria-label="Preview of the port" role="group">
									<PortFace
										connector={drawn}
										contacts={Object.fromEntries(
											drawn.pins.map(({ pin, net }) => [pin, { text: net, shape: '', tone: 'text-ink' }])
										)}
										onpick={() => undefined}
									/>
								</div>
							{:else}<p class="text-sm text-ink-soft">
									A preview of the port appears when every line has a contact and its net.
								</p>{/if}
						{/if}
					</Field>
				{:else}
					<Field
						{...common}
						figure={field.sort.figure ?? false}
						readonly={i === 0 && chosen !== null}
						value={values[field.name] ?? ''}
					/>
				{/if}
			{/each}
			<Problem message={problems.version} />
			<div class="flex items-center gap-3">
				<button class="btn btn-copper">Save</button>
				{#if form?.saved}<span role="status" class="text-agrees">● Saved {form.saved}</span>{/if}
			</div>
		</form>
	</section>
</div>
