<script lang="ts">
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
			<div>
				<label class="label" for={field.name}>{field.label}</label>
				<input
					class="field"
					id={field.name}
					name={field.name}
					type={field.type}
					autocomplete={field.autocomplete}
					required
					defaultValue={kept[field.name] ?? ''}
					aria-invalid={Boolean(problems[field.name])}
					aria-describedby="{field.name}-problem"
				/>
				<Problem id="{field.name}-problem" message={problems[field.name]} />
			</div>
		{/each}
		<div class="grid grid-cols-3 gap-3">
			<div>
				<label class="label" for="currency">Currency</label>
				<select class="field" id="currency" name="currency" value={kept.currency ?? 'EUR'}>
					{#each data.currencies as currency (currency)}<option>{currency}</option>{/each}
				</select>
			</div>
			<div>
				<label class="label" for="locale">Language</label>
				<input class="field" id="locale" name="locale" required value={kept.locale ?? 'en-GB'} />
			</div>
			<div>
				<label class="label" for="timeZone">Time zone</label>
				<input
					class="field"
					id="timeZone"
					name="timeZone"
					list="zones"
					required
					value={kept.timeZone ?? 'UTC'}
				/>
				<datalist id="zones">
					{#each data.zones as zone (zone)}<option value={zone}></option>{/each}
				</datalist>
			</div>
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
