<script lang="ts">
	import Field from '../ui/Field.svelte';
	import { CELL_LIMITS } from '$lib/core/charging/cell-limits';
	import NumberField from './NumberField.svelte';

	let {
		chemistry = $bindable(),
		cells = $bindable(),
		capacity = $bindable(),
		volts = $bindable()
	}: { chemistry: string; cells: number; capacity: number; volts: number | null } = $props();
</script>

<Field id="chemistry" label="Chemistry" look="w-auto" bind:value={chemistry} select>
	{#each Object.entries(CELL_LIMITS) as [code, { label }] (code)}<option value={code}>{label}</option>{/each}
</Field>
<NumberField label="Cells in series" unit="" bind:value={cells} min={1} max={20} />
<NumberField label="Capacity" unit="mAh" bind:value={capacity} min={10} max={100000} />
<NumberField label="Pack reads" unit="V" bind:value={volts} min={0} max={100} />
