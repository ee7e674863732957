<script lang="ts">
	import type { Wait } from '$lib/core/tickets/ticket-record';

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

<div>
	<label class="label" for="hand-to">To</label>
	<select id="hand-to" class="field" bind:value={to}>
		<option value="">nobody, back on the rack</option>
		{#each technicians as { code, name, skills } (code)}
			<option value={code}>{name}{skills.length ? `, ${skills.join(', ')}` : ''}</option>
		{/each}
	</select>
</div>
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
<div>
	<label class="label" for="hand-wait">Waits for{waits.length > 0 ? ', besides' : ''}</label>
	<select id="hand-wait" class="field" bind:value={wait}>
		<option value="">{waits.length > 0 ? 'nothing else' : 'nothing, hands can go on'}</option>
		{#each choices.filter((choice) => !waits.includes(choice)) as choice (choice)}<option value={choice}
				>{choice}</option
			>{/each}
	</select>
</div>
