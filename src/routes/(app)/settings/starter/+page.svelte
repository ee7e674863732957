<script lang="ts">
	import { enhance } from '$app/forms';
	import Problem from '$lib/components/ui/Problem.svelte';
	import { nounFor } from '$lib/core/units/noun';

	let { data, form } = $props();
</script>

<svelte:head><title>Starter catalog · Tavrek</title></svelte:head>

<section class="slip max-w-5xl">
	<h1 class="mb-1">New in the starter catalog</h1>
	<p class="mb-3 text-ink-soft">
		Common practice of the trade that is not in your catalog yet. Choose what your shop does. Records that a
		choice depends on, and its starting chances, are added with it. Your own records are not changed.
	</p>
	{#if form && 'taken' in form && form.taken}
		<p class="mb-3 border-l-[5px] border-agrees bg-paper-2 px-3 py-1.5" role="status">
			{form.taken}
			{nounFor(form.taken, 'record')} added.
		</p>
	{/if}
	{#if data.groups.length === 0}
		<p>Your catalog has everything.</p>
	{:else}
		<form method="POST" action="?/take" use:enhance>
			<div class="columns-1 gap-6 sm:columns-2 lg:columns-3">
				{#each data.groups as { title, records } (title)}
					<fieldset class="mb-3 break-inside-avoid">
						<legend class="label">{title}</legend>
						{#each records as { name, label } (name)}
							<label class="flex items-baseline gap-2 py-0.5">
								<input type="checkbox" name="take" value={name} checked />
								<span>{label}</span>
							</label>
						{/each}
					</fieldset>
				{/each}
			</div>
			<Problem message={form && 'problem' in form ? form.problem : undefined} />
			<button class="btn btn-copper mt-2">Add to the catalog</button>
		</form>
	{/if}
</section>
