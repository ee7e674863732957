<script lang="ts">
	import {
		COLUMN_ROLES,
		DELIMITERS,
		UNITS,
		type ColumnRole,
		type Delimiter,
		type LogDialect,
		type Unit
	} from '$lib/core/charging/log-dialect';

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
		<span class="font-semibold">Understood as</span>
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
			<div>
				<label class="label" for="log-delimiter">Columns set apart by</label>
				<select id="log-delimiter" class="field w-auto" bind:value={draft.delimiter}>
					{#each DELIMITERS as delimiter (delimiter)}<option value={delimiter}
							>{DELIMITER_WORDS[delimiter]}</option
						>{/each}
				</select>
			</div>
			<div>
				<label class="label" for="log-decimal">Decimal sign</label>
				<select id="log-decimal" class="field w-auto" bind:value={draft.decimal}>
					<option value=".">point</option><option value=",">comma</option>
				</select>
			</div>
			<div class="w-28">
				<label class="label" for="log-first">First data line</label>
				<input id="log-first" class="field figure" type="number" min="1" bind:value={draft.firstLine} />
			</div>
			<div class="w-36">
				<label class="label" for="log-step">Seconds a row, no time</label>
				<input
					id="log-step"
					class="field figure"
					type="number"
					min="0.001"
					step="any"
					bind:value={draft.secondsPerRow}
				/>
			</div>
			<button class="btn">Read it so</button>
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
