<script lang="ts">
	import Field from '../ui/Field.svelte';
	import { daysOn, fieldOfInstant } from '../ui/local-time';
	import type { Intake } from './intake.svelte';

	let { intake, now, timeZone }: { intake: Intake; now: number; timeZone: string } = $props();
	const usual = [
		{ label: 'today, end of day', days: 0, hour: 17 },
		{ label: 'tomorrow noon', days: 1, hour: 12 },
		{ label: 'tomorrow, end of day', days: 1, hour: 17 },
		{ label: 'in three days', days: 3, hour: 17 }
	];
	const matters = [
		{ value: 'device', label: 'the device' },
		{ value: 'data', label: 'the data' },
		{ value: 'both', label: 'both' }
	] as const;
</script>

<div class="grid gap-2 sm:grid-cols-2">
	<Field
		id="promised"
		label="Promised for (shop’s time)"
		figure
		look="text-[0.87rem]"
		type="datetime-local"
		bind:value={intake.fields.promised}
	/>
	<Field
		id="passcode"
		label="Passcode, if it is needed"
		figure
		autocomplete="off"
		bind:value={intake.fields.passcode}
		hint="Sealed, shown only while open, erased at closing."
	/>
	<div class="flex flex-wrap gap-1.5 sm:col-span-2">
		{#each usual as { label, days, hour } (label)}
			<button
				type="button"
				class="btn btn-small"
				onclick={() => (intake.fields.promised = fieldOfInstant(daysOn(now, days, hour, timeZone), timeZone))}
				>{label}</button
			>
		{/each}
	</div>
	<fieldset class="flex flex-wrap items-center gap-1.5 sm:col-span-2">
		<legend class="label">What matters most</legend>
		{#each matters as { value, label } (value)}
			<button
				type="button"
				class="btn btn-small"
				aria-pressed={intake.fields.matters === value}
				onclick={() => (intake.fields.matters = value)}>{label}</button
			>
		{/each}
	</fieldset>
</div>
