<script lang="ts">
	import Field from '../ui/Field.svelte';
	import { COLUMN_ROLES, UNITS, type ColumnRole, type Unit } from '$lib/core/charging/log-columns';
	import { DELIMITERS, type Delimiter, type LogDialect } from '$lib/core/charging/log-dialect';

	/** Shows how a log was understood, and lets a person correct it. */
	let {
		dialect,
		open,
		onread
	}: { dialect: LogDialect; open: boolean; onread: (dialect: LogDialect) => void } = $props();
	// a copy to write in; the reading that follows brings a new one
	let draft = $derived.by(() => {
		const copy = $state(structuredClone(dialect));
		return copy;
	});
	const DELIMITER_WORDS: Record<Delimiter, string> = {
		';': 'semicolon',
		'\t': 'tab',
		',': 'comma',
		'|': 'bar'
	};
	const read = $derived(dialect.columns.filter(({ role }) => role !== 'other'));

	function setRole(i: number, role: ColumnRole) {
		const column = draft.columns[i];
		if (!column) return;
		column.role = role;
		column.unit = (UNITS[role][0] as Unit | undefined) ?? null;
		column.said = true;
	}
	function setUnit(i: number, unit: string) {
		const column = draft.columns[i];
		if (column) Object.assign(column, { unit: unit as Unit, said: true });
	}
</script>

<details class="mt-2 rounded border border-edge bg-paper-2 px-3 py-1.5" {open}>
	<summary>
		<span class="font-semibold">Read as</span>
		{DELIMITER_WORDS[dialect.delimiter]}, decimal {dialect.decimal === '.' ? 'point' : 'comma'};
		{#each read as { name, role, unit, said }, i (name + i)}{i > 0 ? ', ' : ''}{role}:
			<span class="figure text-sm">{name}</span>
			in {unit}{said ? '' : ' (guessed)'}{/each}
		<span class="text-sm text-ink-soft">· correct it</span>
	</summary>
	<form
		class="mt-2 grid gap-2"
		onsubmit={(event) => {
			event.preventDefault();
			onread($state.snapshot(draft) as LogDialect);
		}}
	>
		<div class="flex flex-wrap items-end gap-2">
			<Field id="log-delimiter" label="Column separator" look="w-auto" bind:value={draft.delimiter} select>
				{#each DELIMITERS as delimiter (delimiter)}<option value={delimiter}
						>{DELIMITER_WORDS[delimiter]}</option
					>{/each}
			</Field>
			<Field id="log-decimal" label="Decimal sign" look="w-auto" bind:value={draft.decimal} select>
				<option value=".">point</option><option value=",">comma</option>
			</Field>
			<Field
				id="log-first"
				label="First data line"
				figure
				type="number"
				min="1"
				bind:value={draft.firstLine}
				class="w-28"
			/>
			<Field
				id="log-step"
				label="Seconds per row, without time"
				figure
				type="number"
				min="0.001"
				step="any"
				bind:value={draft.secondsPerRow}
				class="w-36"
			/>
			<button class="btn">Apply</button>
		</div>
		<div class="flex flex-wrap gap-2">
			{#each draft.columns as column, i (i)}
				<fieldset class="border-l-2 border-edge-strong pl-2">
					<legend class="figure text-sm">{column.name}</legend>
					<label class="sr-only" for="log-role-{i}">{column.name} is</label>
					<select
						id="log-role-{i}"
						class="field w-auto"
						value={column.role}
						onchange={(e) => setRole(i, e.currentTarget.value as ColumnRole)}
					>
						{#each COLUMN_ROLES as role (role)}<option value={role}
								>{role === 'other' ? 'not read' : role}</option
							>{/each}
					</select>
					{#if column.role !== 'other'}
						<label class="sr-only" for="log-unit-{i}">{column.name} in</label>
						<select
							id="log-unit-{i}"
							class="field w-auto"
							value={column.unit}
							onchange={(e) => setUnit(i, e.currentTarget.value)}
						>
							{#each UNITS[column.role] as unit (unit)}<option>{unit}</option>{/each}
						</select>
					{/if}
				</fieldset>
			{/each}
		</div>
	</form>
</details>
