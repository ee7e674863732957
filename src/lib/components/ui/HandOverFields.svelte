<script lang="ts">
	import Field from './Field.svelte';
	import type { Wait } from '$lib/core/tickets/ticket-entries';

	/** Who has a ticket next, what it waits for and what it does not wait for any more: on the ticket and on the floor alike. */
	let {
		to = $bindable(''),
		wait = $bindable(''),
		waits,
		choices,
		onend,
		technicians
	}: {
		to: string;
		/** another wait to begin */
		wait: string;
		waits: readonly Wait[];
		choices: readonly Wait[];
		onend: (wait: Wait) => unknown;
		technicians: { code: string; name: string; skills: string[] }[];
	} = $props();
</script>

<Field id="hand-to" label="To" bind:value={to} select>
	<option value="">nobody, back on the rack</option>
	{#each technicians as { code, name, skills } (code)}
		<option value={code}>{name}{skills.length ? `, ${skills.join(', ')}` : ''}</option>
	{/each}
</Field>
{#if waits.length > 0}
	<ul aria-label="Waits for now">
		{#each waits as waiting (waiting)}
			<li class="flex items-center justify-between gap-3 border-b border-edge py-1">
				<span>waits for <strong>{waiting}</strong></span>
				<button type="button" class="btn btn-small" onclick={() => onend(waiting)}
					>End this wait<span class="sr-only"> for {waiting}</span></button
				>
			</li>
		{/each}
	</ul>
{/if}
<Field id="hand-wait" label="Waits for{waits.length > 0 ? ', besides' : ''}" bind:value={wait} select>
	<option value="">{waits.length > 0 ? 'nothing else' : 'nothing, hands can go on'}</option>
	{#each choices.filter((choice) => !waits.includes(choice)) as choice (choice)}<option value={choice}
			>{choice}</option
		>{/each}
</Field>
