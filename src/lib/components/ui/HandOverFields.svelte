<script lang="ts">
	import Field from './Field.svelte';
	import type { HandOverDraft } from './hand-over.svelte';
	import type { Wait } from '$lib/core/tickets/ticket-entries';

	/** Who has a ticket next, what it waits for and what it does not wait for any more: on the ticket and on the floor alike. */
	let {
		draft,
		waits,
		choices,
		onend,
		technicians
	}: {
		draft: HandOverDraft;
		waits: readonly Wait[];
		choices: readonly Wait[];
		onend: (wait: Wait) => unknown;
		technicians: { code: string; name: string; skills: string[] }[];
	} = $props();
</script>

<Field id="hand-to" label="To" bind:value={draft.to} select>
	<option value="">nobody, back in the queue</option>
	{#each technicians as { code, name, skills } (code)}
		<option value={code}>{name}{skills.length ? `, ${skills.join(', ')}` : ''}</option>
	{/each}
</Field>
{#if waits.length > 0}
	<ul aria-label="Current waits">
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
<Field id="hand-wait" label="Waits for{waits.length > 0 ? ', besides' : ''}" bind:value={draft.wait} select>
	<option value="">{waits.length > 0 ? 'nothing else' : 'nothing, work can go on'}</option>
	{#each choices.filter((choice) => !waits.includes(choice)) as choice (choice)}<option value={choice}
			>{choice}</option
		>{/each}
</Field>
{#if draft.wait}
	<Field
		id="hand-minutes"
		label="Ends after"
		unit="minutes"
		figure
		inputmode="decimal"
		hint="optional; otherwise somebody ends it"
		bind:value={draft.minutes}
	/>
{/if}
<Field
	id="hand-reason"
	label="Why"
	maxlength={500}
	placeholder="needs the microscope"
	bind:value={draft.reason}
/>
<Field id="hand-done" label="What was done" rows={2} maxlength={500} bind:value={draft.done} />
<Field
	id="hand-left"
	label="Where the parts and screws are"
	maxlength={500}
	placeholder="tray 4, cover in the bag"
	bind:value={draft.leftAt}
/>
