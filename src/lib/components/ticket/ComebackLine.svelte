<script lang="ts">
	import { warrantyWords } from '$lib/core/tickets/warranty';
	import { PAYS } from '$lib/core/tickets/ticket-entries';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import Field from '../ui/Field.svelte';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';

	/** A device that came back: whether the earlier job is under warranty, why it came back, who pays. */
	let { bench }: { bench: BenchCatalog } = $props();
	const desk = useDesk();
	const format = useFormat();
	const ticket = $derived(desk.ticket);
	const first = $derived(desk.view.first);
	const cause = $derived(bench.causes.find(({ code }) => code === ticket.cause) ?? null);
	const said = $derived(
		first?.warranty ? warrantyWords(first.warranty, format.date) : 'nothing was repaired then: a new job'
	);
	const PAYS_WORDS = {
		shop: 'the shop pays',
		supplier: 'claimed from the supplier',
		customer: 'the customer pays'
	};

	let asking = $state(false);
	let draft = $state({ cause: '', operation: '', part: '', step: '', pays: '' });
	const drafted = $derived(bench.causes.find(({ code }) => code === draft.cause) ?? null);
	function ask() {
		const from = ticket.cameFrom;
		draft = {
			cause: ticket.cause ?? '',
			operation: from?.operation ?? '',
			part: from?.sku ? `${from.sku} ${from.lot ?? ''}` : '',
			step: from?.step ? `${from.step.procedure} ${from.step.version} ${from.step.step}` : '',
			pays: from?.pays ?? ''
		};
		asking = true;
	}
	/** who pays where nobody says otherwise */
	const usual = $derived(drafted?.charged ? 'customer' : drafted?.claimed ? 'supplier' : 'shop');
	async function save(event: SubmitEvent) {
		event.preventDefault();
		const part = first?.parts.find(({ sku, lot }) => `${sku} ${lot ?? ''}` === draft.part);
		const step = first?.steps.find(
			({ procedure, version, step }) => `${procedure} ${version} ${step}` === draft.step
		);
		const from = {
			...(draft.operation ? { operation: draft.operation } : {}),
			...(part ? { sku: part.sku, ...(part.lot ? { lot: part.lot } : {}) } : {}),
			...(step ? { step: { procedure: step.procedure, version: step.version, step: step.step } } : {}),
			pays: (draft.pays || usual) as (typeof PAYS)[number]
		};
		if (await desk.send({ verb: 'cause', cause: draft.cause || null, ...(draft.cause ? { from } : {}) })) {
			asking = false;
		}
	}
</script>

<div
	class="flex w-full flex-wrap items-center gap-x-4 gap-y-1 border-t border-edge pt-1 text-[0.93rem]"
	role="group"
	aria-label="Came back"
>
	<p class="flex-1">
		<span class="text-ink-soft">Job of {first?.number ?? ticket.comebackOf}:</span>
		{said}.
		{#if cause}<strong>{cause.label}</strong>{ticket.cameFrom?.pays
				? `, ${PAYS_WORDS[ticket.cameFrom.pays]}`
				: ''}.{/if}
	</p>
	{#if desk.mayWhenClosed('cause')}
		<button class="btn {cause ? 'btn-small' : ''}" onclick={ask}
			>{cause ? 'Change' : 'Why it came back'}</button
		>
	{/if}
</div>
<ModalSlip bind:open={asking} title="Why {ticket.number} came back">
	<form class="grid gap-3" onsubmit={save}>
		<p class="text-ink-soft">Record what was found, not who did it. It helps to avoid the next one.</p>
		<Field id="cause" label="Cause" bind:value={draft.cause} select>
			<option value="">not known yet</option>
			{#each bench.causes as { code, label } (code)}<option value={code}>{label}</option>{/each}
		</Field>
		{#if draft.cause && first}
			<Field id="cause-operation" label="Repair" bind:value={draft.operation} select>
				<option value="">not specific</option>
				{#each first.operations as { code, label } (code)}<option value={code}>{label}</option>{/each}
			</Field>
			{#if first.parts.length > 0}
				<Field id="cause-part" label="Part" bind:value={draft.part} select>
					<option value="">none</option>
					{#each first.parts as { sku, label, lot } (`${sku} ${lot}`)}<option value="{sku} {lot ?? ''}"
							>{label}{lot ? `, lot ${lot}` : ''}</option
						>{/each}
				</Field>
			{/if}
			{#if first.steps.length > 0}
				<Field id="cause-step" label="Step" bind:value={draft.step} select>
					<option value="">not specific</option>
					{#each first.steps as { procedure, version, step, says } (`${procedure} ${version} ${step}`)}<option
							value="{procedure} {version} {step}">{step + 1}. {says}</option
						>{/each}
				</Field>
			{/if}
			<Field
				id="cause-pays"
				label="Who pays"
				value={draft.pays || usual}
				select
				onchange={(event) => (draft.pays = (event.target as HTMLSelectElement).value)}
			>
				{#each PAYS as who (who)}<option value={who}>{PAYS_WORDS[who]}</option>{/each}
			</Field>
		{/if}
		<button class="btn btn-copper justify-self-start">Keep</button>
	</form>
</ModalSlip>
