<script lang="ts">
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
	const read = $derived(Number(typed.trim().replace(',', '.')));
	const good = $derived(typed.trim() !== '' && Number.isFinite(read) && read >= min && read <= max);
	function take() {
		if (good) value = read;
	}
</script>

<div>
	<label class="label" for={id}>{label}</label>
	<div class="flex items-center gap-1.5">
		<input
			{id}
			class="field figure w-28"
			inputmode="decimal"
			autocomplete="off"
			bind:value={typed}
			oninput={take}
			aria-invalid={!good}
			aria-describedby="{id}-problem"
		/>
		<span class="text-sm text-ink-soft">{unit}</span>
	</div>
	<p id="{id}-problem" role="alert" class="text-sm font-semibold text-short empty:hidden">
		{good ? '' : `“${typed}”: a number from ${min} to ${max}`}
	</p>
</div>
