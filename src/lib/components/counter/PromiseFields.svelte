<script lang="ts">
	import Field from '../ui/Field.svelte';
	import MomentField from '../ui/MomentField.svelte';
	import type { Intake } from './intake.svelte';

	let { intake, now, closed }: { intake: Intake; now: number; closed: boolean } = $props();
	const matters = [
		{ value: 'device', label: 'the device' },
		{ value: 'data', label: 'the data' },
		{ value: 'both', label: 'both' }
	] as const;
</script>

<div class="grid gap-2 sm:grid-cols-2">
	<MomentField
		id="promised"
		label="Promised for (shop’s time)"
		{now}
		bind:text={intake.fields.promised}
		error={closed ? 'the shop is closed then; choose another time' : null}
	/>
	<Field
		id="passcode"
		label="Passcode, if needed"
		figure
		autocomplete="off"
		bind:value={intake.fields.passcode}
		hint="Encrypted. Deleted when the ticket closes."
	/>
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
