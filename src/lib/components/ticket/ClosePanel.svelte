<script lang="ts">
	import { codeWords } from '$lib/core/units/code';
	import { nounFor } from '$lib/core/units/noun';
	import Field from '../ui/Field.svelte';
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import type { Shop } from '$lib/core/catalog/catalog';
	import { gatesInTheWay } from '$lib/core/bench/gates';
	import { OUTCOMES, PAID_BY, type Outcome } from '$lib/core/tickets/ticket-entries';
	import { amountProblem, parseAmount } from '$lib/core/units/money';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import { useFormat, useShop } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	import Payments from './Payments.svelte';

	let { bench }: { bench: BenchCatalog } = $props();
	const desk = useDesk();
	const format = useFormat();
	const shop = useShop();
	const ticket = $derived(desk.view.ticket);
	const open = $derived(ticket.closedAt === null);
	/** the counter hears a customer who declines, and closes nothing else */
	const outcomes = $derived(desk.may('close') ? OUTCOMES : (['declined'] as const));
	const resolved = $derived(ticket.attempts.some((attempt) => attempt.resolved));
	const last = $derived(ticket.reopenings.findLast(({ undoneAt }) => undoneAt === undefined));
	let outcome = $state<Outcome | null>(null);
	const chosen = $derived<Outcome>(
		!desk.may('close')
			? 'declined'
			: (outcome ??
					last?.outcome ??
					(ticket.accepted === false ? 'declined' : resolved ? 'fixed' : 'not-fixed'))
	);
	// what was confirmed before it was reopened stands until it is said otherwise
	let faults = $state<string[]>(untrack(() => desk.view.ticket.faults ?? []));
	let made = $state<string[]>(untrack(() => desk.view.ticket.ownFaults ?? []));
	/** what the repair broke, of what is confirmed now */
	const ownFaults = $derived(made.filter((fault) => faults.includes(fault)));
	let paid = $state<string | null>(null);
	/** the price of what was repaired, the shop's fee of what could not be, nothing of a comeback */
	const due = $derived(
		ticket.comebackOf
			? 0
			: chosen === 'fixed'
				? (ticket.quotedMinor ?? 0)
				: chosen === 'not-fixed' || chosen === 'no-fault-found'
					? (page.data.shop as Shop).diagnosisFeeMinor
					: 0
	);
	const paidText = $derived(paid ?? ((last ? (ticket.paidMinor ?? due) : due) / 100).toFixed(2));
	const paidMinor = $derived(parseAmount(paidText, shop.locale));
	/** less was paid than is due: said once more before it is closed so */
	const lacking = $derived(paidMinor === null ? 0 : Math.max(0, due - paidMinor));
	/** what was paid before the closing: a deposit */
	const before = $derived(ticket.paidMinor ?? 0);
	let paidBy = $state<(typeof PAID_BY)[number] | null>(null);
	const how = $derived(paidBy ?? (ticket.customer?.kind === 'trade' ? 'invoice' : 'card'));
	let asked = $state<number | null>(null);
	const inTheWay = $derived(gatesInTheWay(desk.gates));
	const likely = $derived(desk.odds.faults.map(({ code }) => code));
	const ordered = $derived([...bench.faults].sort((a, b) => place(a.code) - place(b.code)));
	const place = (code: string) => (likely.includes(code) ? likely.indexOf(code) : 99);
	const labels = $derived(new Map(bench.faults.map(({ code, label }) => [code, label])));
	/** another fault than those of the catalog was chosen: what it was is said in words */
	const isOther = $derived(bench.faults.some(({ code, isCatchAll }) => isCatchAll && faults.includes(code)));
	let words = $state(untrack(() => desk.view.ticket.faultWords ?? ''));
	let earlier = $state('');

	const toggle = (code: string) =>
		(faults = faults.includes(code) ? faults.filter((fault) => fault !== code) : [...faults, code]);
	async function close(event: SubmitEvent) {
		event.preventDefault();
		if (paidMinor === null) return;
		if (lacking > 0 && asked !== lacking) {
			asked = lacking;
			return;
		}
		const rest = paidMinor === before ? {} : { paidBy: how };
		const said = isOther && words.trim() !== '' ? { faultWords: words } : {};
		await desk.send({ verb: 'close', outcome: chosen, faults, ownFaults, paidMinor, ...said, ...rest });
	}
</script>

{#if !open}
	<p>
		Closed {format.moment(ticket.closedAt ?? 0)} as <strong>{codeWords(ticket.outcome ?? '')}</strong>.
		{#if ticket.faults?.length}Confirmed: {ticket.faults
				.map((code) => labels.get(code) ?? code)
				.join(' and ')}{ticket.faultWords ? `: ${ticket.faultWords}` : ''}.{/if}
		Paid <strong class="figure">{format.money(ticket.paidMinor ?? 0)}</strong>.
	</p>
	<Payments />
	{#if ticket.outcome === 'fixed'}
		<p class="mt-2 text-ink-soft">
			A weak joint comes back within about two weeks. A call two or three days after pick-up finds it sooner.
		</p>
	{/if}
{:else}
	{#if last && desk.may('close-again')}
		<p class="mb-3 flex flex-wrap items-center gap-3 border-l-[5px] border-low bg-paper-2 px-3 py-1.5">
			<span class="flex-1"
				>Reopened{last.at ? ` ${format.moment(last.at)}` : ''}; it was closed as {last.outcome.replaceAll(
					'-',
					' '
				)}.</span
			>
			<button class="btn btn-small" onclick={() => desk.send({ verb: 'close-again' })}>Undo reopening</button>
		</p>
	{/if}
	<form onsubmit={close} class="space-y-3">
		<fieldset>
			<legend class="label">Outcome</legend>
			<div class="flex flex-wrap gap-1.5">
				{#each outcomes as name (name)}
					<button
						type="button"
						class="btn btn-small"
						aria-pressed={chosen === name}
						onclick={() => (outcome = name)}>{codeWords(name)}</button
					>
				{/each}
			</div>
		</fieldset>
		{#if chosen === 'fixed' && inTheWay.length > 0}
			<p class="border-l-[5px] border-short bg-paper-2 px-3 py-1.5">
				<strong class="text-short"
					>▼ {inTheWay.length} {nounFor(inTheWay.length, 'final check is', 'final checks are')} open:</strong
				>
				{inTheWay.map(({ label }) => label).join('; ')}.
			</p>
		{/if}
		<fieldset>
			<legend class="label">Confirmed faults (likeliest first; choose several if several were found)</legend>
			<div class="flex flex-wrap gap-1.5">
				{#each ordered as { code, label } (code)}
					<button
						type="button"
						class="btn btn-small"
						aria-pressed={faults.includes(code)}
						onclick={() => toggle(code)}>{label}</button
					>
				{/each}
			</div>
		</fieldset>
		{#if isOther}
			<Field
				id="fault-words"
				label="The fault in your own words"
				placeholder="such as: headphone board pulled the supply down"
				bind:value={words}
				maxlength={500}
				class="max-w-xl"
			/>
		{/if}
		{#if faults.length > 0 && ticket.attempts.length > 0}
			<fieldset>
				<legend class="label">Caused by the repair, not there on arrival</legend>
				<div class="flex flex-wrap gap-1.5">
					{#each faults as code (code)}
						<button
							type="button"
							class="btn btn-small"
							aria-pressed={ownFaults.includes(code)}
							onclick={() =>
								(made = made.includes(code) ? made.filter((fault) => fault !== code) : [...made, code])}
							><span class="sr-only">made by the repair: </span>{labels.get(code) ?? code}</button
						>
					{/each}
				</div>
			</fieldset>
		{/if}
		<div class="flex flex-wrap items-end gap-3">
			<Field
				id="paid"
				label={before > 0 ? 'Paid in total' : 'Paid'}
				figure
				look="text-lg"
				inputmode="decimal"
				value={paidText}
				oninput={(event) => (paid = event.currentTarget.value)}
				class="w-36"
			/>
			<fieldset>
				<legend class="label">{before > 0 ? `The rest over ${format.amount(before)} by` : 'By'}</legend>
				<div class="flex gap-1">
					{#each PAID_BY as kind (kind)}
						<button
							type="button"
							class="btn btn-small"
							aria-pressed={how === kind}
							onclick={() => (paidBy = kind)}>{kind}</button
						>
					{/each}
				</div>
			</fieldset>
			<button class="btn btn-copper" disabled={paidMinor === null}
				>{lacking > 0 && asked === lacking ? 'Close anyway' : 'Close the ticket'}</button
			>
			{#if lacking > 0 && asked === lacking}<span role="alert" class="text-sm font-semibold text-short"
					>▼ {format.money(lacking)} of {format.money(due)} is not paid. Correct the amount, or close anyway.</span
				>{/if}
			{#if paidMinor === null}<span class="text-sm text-short">What is paid {amountProblem(paidText)}.</span
				>{/if}
		</div>
	</form>
	<Payments />
	<section class="mt-4" aria-labelledby="earlier-title">
		<h2 id="earlier-title">Earlier visits of this device or customer</h2>
		{#if desk.view.visits.length === 0}<p class="text-ink-soft">
				None found by serial number or customer.
			</p>{/if}
		<ul>
			{#each desk.view.visits as visit (visit.number)}
				<li class="flex flex-wrap items-center gap-3 border-b border-edge py-1">
					<a class="link figure" href="/tickets/{visit.number}">{visit.number}</a>
					<span class="flex-1 text-sm"
						>same {visit.why}, {visit.closedAt
							? `closed ${format.date(visit.closedAt)}`
							: 'open'}{visit.outcome ? `, ${codeWords(visit.outcome)}` : ''}{visit.faults.length
							? `: ${visit.faults.map((code) => labels.get(code) ?? code).join(', ')}`
							: ''}</span
					>
					<button
						class="btn btn-small"
						aria-pressed={ticket.comebackOf === visit.number}
						onclick={() =>
							desk.send({ verb: 'comeback', of: ticket.comebackOf === visit.number ? null : visit.number })}
						>Link as comeback of this<span class="sr-only"> {visit.number}</span></button
					>
				</li>
			{/each}
		</ul>
		<form
			class="mt-2 flex gap-2"
			onsubmit={(event) => {
				event.preventDefault();
				if (earlier.trim()) void desk.send({ verb: 'comeback', of: earlier.trim() });
			}}
		>
			<input
				class="field figure w-40"
				aria-label="Number of the first ticket"
				placeholder="K-00000"
				bind:value={earlier}
			/>
			<button class="btn btn-small" disabled={!earlier.trim()}>Link as comeback</button>
		</form>
	</section>
{/if}
