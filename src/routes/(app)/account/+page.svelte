<script lang="ts">
	import { enhance } from '$app/forms';
	import Field from '$lib/components/ui/Field.svelte';
	let { data, form } = $props();
	const problems = $derived<Record<string, string>>(form?.problems ?? {});
	const fields = [
		{ name: 'current', label: 'Current password', complete: 'current-password' },
		{ name: 'password', label: 'New password, at least 12 characters', complete: 'new-password' },
		{ name: 'again', label: 'Repeat the new password', complete: 'new-password' }
	] as const;
</script>

<svelte:head><title>Password · Tavrek</title></svelte:head>

<section class="slip mx-auto max-w-md" aria-labelledby="password-title">
	<h1 id="password-title" class="mb-2">Change password</h1>
	<p class="mb-3 text-ink-soft">
		{data.mustChange
			? 'You signed in with a one-time password. Choose your own before you go on.'
			: 'Every other session of yours is signed out.'}
		Several words are easy to remember and hard to guess.
	</p>
	<form
		method="POST"
		class="space-y-3"
		use:enhance={() =>
			({ update, result }) =>
				update({ reset: result.type === 'success' })}
	>
		{#each fields as { name, label, complete } (name)}
			<Field
				id={name}
				{label}
				{name}
				type="password"
				required
				maxlength={200}
				autocomplete={complete}
				error={problems[name] ?? null}
			/>
		{/each}
		<div class="flex items-center gap-3">
			<button class="btn btn-copper">Change password</button>
			{#if form?.saved}<span role="status" class="text-agrees">● Changed</span>{/if}
		</div>
	</form>
</section>
