<script lang="ts">
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
		<div>
			<label class="label" for="ref-pin">Contact</label>
			<select
				id="ref-pin"
				class="field figure w-auto"
				name="pin"
				value={form?.kept?.pin ?? current ?? pins[0]}
			>
				{#each pins as pin (pin)}<option>{pin}</option>{/each}
			</select>
		</div>
		<div class="w-24">
			<label class="label" for="ref-value">Reading</label>
			<input
				id="ref-value"
				class="field figure"
				name="value"
				placeholder="0.468"
				autocomplete="off"
				value={form?.kept?.value ?? ''}
			/>
		</div>
		<div>
			<label class="label" for="ref-grade">Grade</label>
			<select id="ref-grade" class="field w-auto" name="grade">
				<option>verified</option><option>provisional</option>
			</select>
		</div>
		<div class="w-36">
			<label class="label" for="ref-meter">Meter</label>
			<input
				id="ref-meter"
				class="field"
				name="meter"
				list="known-meters"
				autocomplete="off"
				value={form?.kept?.meter ?? ''}
			/>
			<datalist id="known-meters"
				>{#each meters as meter (meter)}<option>{meter}</option>{/each}</datalist
			>
		</div>
		<div class="w-24">
			<label class="label" for="ref-board">Board</label>
			<input id="ref-board" class="field" name="board" autocomplete="off" value={form?.kept?.board ?? ''} />
		</div>
		<button class="btn">Add</button>
	</form>
	<Problem message={form?.addProblem} />
	{#if form?.added}<p role="status" class="mt-1 text-agrees">● Added {form.added}</p>{/if}
</section>
