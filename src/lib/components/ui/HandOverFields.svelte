<script lang="ts">
	import { WAITS } from '$lib/core/tickets/ticket-record';

	/** Who has a ticket next and what it waits for: on the ticket and on the floor alike. */
	let {
		to = $bindable(''),
		waitingFor = $bindable(''),
		technicians
	}: {
		to: string;
		waitingFor: string;
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
<div>
	<label class="label" for="hand-wait">Waits for</label>
	<select id="hand-wait" class="field" bind:value={waitingFor}>
		<option value="">nothing, hands can go on</option>
		{#each WAITS as wait (wait)}<option value={wait}>{wait}</option>{/each}
	</select>
</div>
