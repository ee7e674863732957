<script lang="ts">
	import Field from '../ui/Field.svelte';
	import { enhance } from '$app/forms';
	import Problem from '../ui/Problem.svelte';

	let {
		pins,
		current,
		mode,
		meters,
		model,
		form
	}: {
		pins: string[];
		current: string | null;
		mode: string;
		meters: string[];
		model: string;
		form: { kept?: Record<string, string>; addProblem?: string; added?: string } | null;
	} = $props();
</script>

<section class="slip" aria-labelledby="add-reference">
	<h2 id="add-reference" class="mb-1 text-ink">Add a reading by hand</h2>
	<form
		method="POST"
		action="?/add&model={model}&mode={mode}"
		class="flex flex-wrap items-end gap-2"
		use:enhance={() =>
			({ update }) =>
				update({ reset: false })}
	>
		<input type="hidden" name="mode" value={mode} />
		<Field
			id="ref-pin"
			label="Contact"
			figure
			look="w-auto"
			name="pin"
			value={form?.kept?.pin ?? current ?? pins[0]}
			select
		>
			{#each pins as pin (pin)}<option>{pin}</option>{/each}
		</Field>
		<Field
			id="ref-value"
			label="Reading"
			figure
			name="value"
			placeholder="0.468"
			autocomplete="off"
			value={form?.kept?.value ?? ''}
			class="w-24"
		/>
		<Field id="ref-grade" label="Grade" look="w-auto" name="grade" select>
			<option>verified</option><option>provisional</option>
		</Field>
		<Field
			id="ref-meter"
			label="Meter"
			name="meter"
			list="known-meters"
			autocomplete="off"
			value={form?.kept?.meter ?? ''}
			class="w-36"
		>
			<datalist id="known-meters"
				>{#each meters as meter (meter)}<option>{meter}</option>{/each}</datalist
			>
		</Field>
		<Field
			id="ref-board"
			label="Board"
			name="board"
			autocomplete="off"
			value={form?.kept?.board ?? ''}
			class="w-24"
		/>
		<button class="btn">Add</button>
	</form>
	<Problem message={form?.addProblem} />
	{#if form?.added}<p role="status" class="mt-1 text-agrees">● Added {form.added}</p>{/if}
</section>
