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
	}: { label: string; unit: string; value: number; min?: number; max?: number } = $props();
	const id = $props.id();
	let typed = $state(String(value));
	const read = $derived(readNumberWithin(typed, min, max));
	function take() {
		if (read !== null) value = read;
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
	error={read !== null ? null : `“${typed}”: a number from ${min} to ${max}`}
/>
