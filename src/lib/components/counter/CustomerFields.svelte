<script lang="ts">
	import Field from '../ui/Field.svelte';
	import type { CustomerMatch } from '$lib/server/tickets/queries';
	import FoundAsTyped from '../ui/FoundAsTyped.svelte';
	import Problem from '../ui/Problem.svelte';
	import type { Intake } from './intake.svelte';

	let { intake, problem }: { intake: Intake; problem: string | null | undefined } = $props();
	let matches = $state.raw<CustomerMatch[]>([]);
	let asked = 0;

	async function find(typed: string) {
		const mine = ++asked;
		if (typed.trim().length < 2) {
			matches = [];
			return;
		}
		const answer = await fetch(`/counter/customers?typed=${encodeURIComponent(typed)}`).catch(() => null);
		if (mine === asked && answer?.ok) matches = (await answer.json()) as CustomerMatch[];
	}
	function pick(match: CustomerMatch) {
		const { kind, phone, email, hears } = match;
		Object.assign(intake.fields, { kind, phone, email, hears });
		void intake.lookBack();
	}
</script>

<div class="grid gap-2 sm:grid-cols-[1fr_auto]">
	<div>
		<FoundAsTyped
			id="customer"
			label="Customer"
			bind:text={intake.fields.customer}
			items={matches}
			keyOf={(match) => `${match.name}|${match.phone}|${match.email}`}
			wordsOf={(match) => match.name}
			detailOf={(match) => `${match.phone} · ${match.tickets} ${match.tickets === 1 ? 'ticket' : 'tickets'}`}
			onpick={pick}
			ontype={find}
			invalid={Boolean(problem)}
			describedby="customer-problem"
		/>
		<Problem id="customer-problem" message={problem} />
	</div>
	<Field id="kind" label="Kind" bind:value={intake.fields.kind} select>
		<option value="private">private</option><option value="trade">trade</option>
	</Field>
	<Field id="phone" label="Phone" figure type="tel" autocomplete="off" bind:value={intake.fields.phone} />
	<Field id="email" label="E-mail" type="email" autocomplete="off" bind:value={intake.fields.email} />
	<Field
		id="hears"
		label="Contact by"
		bind:value={intake.fields.hears}
		select
		class="sm:col-span-2"
		hint={intake.fields.hears === 'mail' && !intake.fields.email
			? 'write the address above, or no message goes out'
			: intake.fields.hears === 'text' && !intake.fields.phone
				? 'write the telephone above, or no message goes out'
				: undefined}
	>
		<option value="">phone call</option>
		<option value="mail">email</option>
		<option value="text">text message</option>
		<option value="none">no messages</option>
	</Field>
</div>
