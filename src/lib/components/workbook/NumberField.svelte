<script lang="ts">
	import Field from '$lib/components/ui/Field.svelte';
	import { readNumberWithin } from '$lib/core/units/typed-number';
	/** A figure with its unit; what is no number in its range is named at once and keeps the last good result. */
	let {
		label,
		unit,
		value = $bindable(),
		min = 0,
		max = 1e6
	}: { label: string; unit: string; value: number | null; min?: number; max?: number } = $props();
	const id = $props.id();
	let typed = $state(value === null ? '' : String(value));
	/** what may be left empty was so at first */
	const optional = value === null;
	const empty = $derived(optional && typed.trim() === '');
	const read = $derived(empty ? null : readNumberWithin(typed, min, max));
	function take() {
		if (read !== null || empty) value = read;
	}
</script>

<Field
	{id}
	{label}
	{unit}
	figure
	look="w-28"
	inputmode="decimal"
	autocomplete="off"
	bind:value={typed}
	oninput={take}
	error={read !== null || empty ? null : `“${typed}”: a number from ${min} to ${max}`}
/>
