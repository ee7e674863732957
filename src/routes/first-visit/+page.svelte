<script lang="ts">
	import Field from '$lib/components/ui/Field.svelte';
	import { enhance } from '$app/forms';
	import DoorLayout from '$lib/components/ui/DoorLayout.svelte';
	import Problem from '$lib/components/ui/Problem.svelte';
	let { data, form } = $props();
	const kept = $derived(form?.kept ?? {});
	const problems = $derived<Record<string, string>>(form?.problems ?? {});
	const fields = [
		{ name: 'name', label: 'Your name', autocomplete: 'name', type: 'text' },
		{ name: 'signIn', label: 'Name to sign in with', autocomplete: 'username', type: 'text' },
		{
			name: 'password',
			label: 'Password, at least 12 characters',
			autocomplete: 'new-password',
			type: 'password'
		},
		{ name: 'shop', label: 'Name of the shop', autocomplete: 'organization', type: 'text' }
	] as const;
</script>

<DoorLayout title="Open the shop" lead="This first account is the manager’s. It adds everyone else.">
	<form
		method="POST"
		use:enhance={() =>
			({ update }) =>
				update({ reset: false })}
		class="space-y-3"
	>
		{#each fields as field (field.name)}
			<Field
				id={field.name}
				{...field}
				required
				initial={kept[field.name] ?? ''}
				error={problems[field.name] ?? null}
			/>
		{/each}
		<div class="grid grid-cols-3 gap-3">
			<Field id="currency" label="Currency" name="currency" value={kept.currency ?? 'EUR'} select>
				{#each data.currencies as currency (currency)}<option>{currency}</option>{/each}
			</Field>
			<Field id="locale" label="Language" name="locale" required value={kept.locale ?? 'en-GB'} />
			<Field
				id="timeZone"
				label="Time zone"
				name="timeZone"
				list="zones"
				required
				value={kept.timeZone ?? 'UTC'}
			>
				<datalist id="zones">
					{#each data.zones as zone (zone)}<option value={zone}></option>{/each}
				</datalist>
			</Field>
		</div>
		<Problem message={problems.currency ?? problems.locale ?? problems.timeZone} />
		<label class="flex items-start gap-2">
			<input type="checkbox" name="starter" class="mt-1" checked />
			<span>Start with the trade’s usual faults, signs, checks and operations. All of it can be changed.</span
			>
		</label>
		<button class="btn btn-copper w-full">Open the shop</button>
	</form>
</DoorLayout>
