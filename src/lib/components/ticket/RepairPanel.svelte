<script lang="ts">
	import { keyToAction } from '$lib/components/ui/key-to-action';
	import { readNumberWithin } from '$lib/core/units/typed-number';
	import Field from '../ui/Field.svelte';
	import { onMount, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { openRun } from '$lib/core/bench/procedure-run';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	import CountFields from './CountFields.svelte';
	import { KitChoice } from './kit-choice.svelte';
	import KitList from './KitList.svelte';
	import ScrewsPanel from './ScrewsPanel.svelte';
	import StrikeOut from './StrikeOut.svelte';
	import WhichTimer from './WhichTimer.svelte';

	let { bench, picked, active }: { bench: BenchCatalog; picked: string | null; active: boolean } = $props();
	const desk = useDesk();
	const format = useFormat();
	const ticket = $derived(desk.ticket);
	const open = $derived(desk.may('attempt'));
	const running = $derived(openRun(ticket.steps) !== null);
	const advised = $derived(
		desk.view.plan.steps.filter(({ kind }) => kind === 'operation').map(({ code }) => code)
	);
	const own = page.data.user?.technician as string | null;
	let chosen = $state<string | null>(null);
	const operation = $derived(chosen ?? picked ?? advised[0] ?? bench.operations[0]?.code ?? '');
	let technician = $state(
		untrack(() => own ?? desk.view.ticket.assignedTo ?? bench.technicians[0]?.code ?? '')
	);
	let minutes = $state('');
	let sku = $state('');
	let quantity = $state('1');
	/** as scanned; without, the oldest */
	let lot = $state('');
	let problem = $state('');
	const about = $derived(bench.operations.find(({ code }) => code === operation));
	const nameOf = (code: string | undefined) =>
		bench.technicians.find((person) => person.code === code)?.name ?? code ?? '';
	const labelOf = (code: string) => bench.operations.find((item) => item.code === code)?.label ?? code;
	const partLabel = (code: string) => bench.parts.find((part) => part.sku === code)?.label ?? code;

	const kit = new KitChoice();
	const version = $derived(desk.view.version);
	// the shelf is asked when the panel is looked at, for another operation, and after each change
	$effect(() => {
		const wanted = operation;
		if (!active || !open || version < 0) return;
		const asking = new AbortController();
		void untrack(() => kit.ask(wanted, desk.ticket.model, asking.signal));
		return () => asking.abort();
	});
	/** what an operation takes, chosen at the bench where that was possible */
	const partsOf = (code: string) =>
		kit.operation === code && kit.parts.length > 0
			? kit.taken
			: (bench.operations.find((each) => each.code === code)?.parts ?? []);
	/** O takes something else: harvested instead of new, another part in its place. F follows a procedure. */
	function keys(event: KeyboardEvent) {
		const action = active ? keyToAction(KEYS, event) : null;
		if (action === 'another') kit.another();
		if (action === 'follow') void goto(`/tickets/${ticket.number}/run`);
	}
	const KEYS = { o: 'another', f: 'follow' } as const;
	let now = $state(desk.view.now);
	onMount(() => {
		const skew = Date.now() - desk.view.now;
		const timer = setInterval(() => (now = Date.now() - skew), 1000);
		return () => clearInterval(timer);
	});
	const clock = (since: number) => {
		const seconds = Math.max(0, Math.floor((now - since) / 1000));
		const part = (value: number) => String(value).padStart(2, '0');
		return `${Math.floor(seconds / 3600)}:${part(Math.floor(seconds / 60) % 60)}:${part(seconds % 60)}`;
	};

	/** What came of a piece of work; a step of a longer repair says nothing of the complaint. */
	const ENDS = [
		{ words: 'Fixed it', came: { resolved: true } },
		{ words: 'Did not fix it', came: { resolved: false } },
		{ words: 'Step only', came: { resolved: false, part: true } }
	] as const;
	function log(came: (typeof ENDS)[number]['came']) {
		const typed = readNumberWithin(minutes, 0, 99_999);
		if (typed === null) {
			problem = `Minutes is “${minutes}”; write the bench time in minutes, such as 41`;
			return;
		}
		problem = '';
		const parts = partsOf(operation);
		void desk.send({ verb: 'attempt', operation, technician, minutes: typed, ...came, parts });
		minutes = '';
	}
	function usePart(event: SubmitEvent) {
		event.preventDefault();
		const count = readNumberWithin(quantity, 0, 10_000) ?? 0;
		if (!sku) problem = 'Choose a part first';
		else if (!(count > 0)) problem = `Quantity is “${quantity}”; write a number above 0`;
		else {
			const from = lot.trim() ? { lot: lot.trim() } : {};
			void desk.send({ verb: 'use-part', sku, quantity: count, ...from });
			sku = lot = problem = '';
			quantity = '1';
		}
	}
</script>

<svelte:window onkeydown={keys} />

{#if open && bench.technicians.length === 0}
	<p class="mb-2 text-short">
		No technician in the catalog yet. A manager can add one under Settings, Catalog.
	</p>
{/if}
{#if open}
	<div class="border-l-[5px] border-copper bg-wash px-3 py-2.5">
		<div class="flex flex-wrap items-end gap-2">
			<Field
				id="operation"
				label="Operation"
				value={operation}
				onchange={(event) => (chosen = event.currentTarget.value)}
				select
				class="min-w-56 flex-1"
			>
				{#each bench.operations as { code, label } (code)}<option value={code}
						>{label}{advised.includes(code) ? ' · advised' : ''}</option
					>{/each}
			</Field>
			<Field id="hands" label="Technician" bind:value={technician} select>
				{#each bench.technicians as { code, name } (code)}<option value={code}>{name}</option>{/each}
			</Field>
			<button
				class="btn btn-copper"
				disabled={!operation || !technician}
				onclick={() => desk.send({ verb: 'start-timer', operation, technician })}>Start timer</button
			>
		</div>
		{#if about?.caution}<p class="mt-1.5 text-sm font-semibold text-short">▲ {about.caution}</p>{/if}
		{#if kit.operation === operation && kit.parts.length > 0}
			<KitList {kit} />
		{:else if about?.parts.length}<p class="mt-1 text-sm text-ink-soft">
				Needs {about.parts.map((part) => `${part.quantity} × ${partLabel(part.sku)}`).join(', ')}; recorded
				with it.
			</p>{/if}
		<p class="mt-2">
			<a class="btn" href="/tickets/{ticket.number}/run"
				>{running ? 'Continue the procedure' : 'Follow a procedure'} <span class="key">F</span></a
			>
		</p>
		<div class="mt-2 flex flex-wrap items-end gap-2">
			<Field id="minutes" label="Minutes" figure inputmode="decimal" bind:value={minutes} class="w-28" />
			{#each ENDS as { words, came } (words)}
				<button class="btn" onclick={() => log(came)}>{words}</button>
			{/each}
		</div>
		<p role="alert" class="mt-1 text-sm font-semibold text-short">{problem}</p>
		<p role="alert" class="mt-1 text-sm font-semibold text-low">
			{desk.view.notice ? `▼ ${desk.view.notice}` : ''}
		</p>
	</div>
	<WhichTimer {bench} />
	{#each ticket.running as timer (timer.technician + timer.operation)}
		<div class="mt-2 flex flex-wrap items-center gap-3 rounded border-2 border-copper px-3 py-2">
			<span class="figure text-2xl">{clock(timer.startedAt)}</span>
			<span class="flex-1"
				><strong>{labelOf(timer.operation)}</strong>, {nameOf(timer.technician)}, since {format.weekdayTime(
					timer.startedAt
				)}</span
			>
			{#each ENDS as { words, came } (words)}
				<button
					class="btn btn-small"
					onclick={() =>
						desk.send({
							verb: 'stop-timer',
							operation: timer.operation,
							technician: timer.technician,
							...came,
							parts: partsOf(timer.operation)
						})}>Stop: {words.toLowerCase()}</button
				>
			{/each}
			<button
				class="link text-sm"
				onclick={() =>
					desk.send({ verb: 'cancel-timer', operation: timer.operation, technician: timer.technician })}
				>discard</button
			>
		</div>
	{/each}
{/if}
<CountFields {bench} at="repair" />
<div class="mt-3 grid gap-4 xl:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)]">
	<section aria-label="Work done">
		<h2>Work done</h2>
		{#if ticket.attempts.length === 0}<p class="text-ink-soft">Nothing yet.</p>{:else}
			<table class="ledger">
				<thead
					><tr
						><th>Operation</th><th>Technician</th><th class="num">Min</th><th>Result</th><th
							><span class="sr-only">Do</span></th
						></tr
					></thead
				>
				<tbody>
					{#each ticket.attempts as attempt, i (i)}
						<tr>
							<td>{labelOf(attempt.operation)}</td>
							<td>{nameOf(attempt.technician)}</td>
							<td class="num">{attempt.minutes ?? '–'}</td>
							<td class={attempt.part ? 'text-ink-soft' : attempt.resolved ? 'text-agrees' : 'text-short'}
								>{attempt.part ? '… part' : attempt.resolved ? '● gone' : '▼ stays'}</td
							>
							<td class="text-right"><StrikeOut list="attempts" index={i} what="attempt {i + 1}" /></td>
						</tr>
					{/each}
				</tbody>
			</table>
		{/if}
	</section>
	<section aria-label="Parts used">
		<h2>Parts used</h2>
		{#if ticket.parts.length > 0}
			<table class="ledger">
				<thead
					><tr
						><th>Part</th><th class="num">Qty</th>{#if page.data.user?.role === 'manager'}<th class="num"
								>Unit cost</th
							>{/if}<th><span class="sr-only">Do</span></th></tr
					></thead
				>
				<tbody>
					{#each ticket.parts as part, i (i)}
						<tr>
							<td
								>{partLabel(part.sku)}{#if part.lot}<span class="figure block text-sm text-ink-soft"
										>{part.lot}</span
									>{/if}</td
							>
							<td class="num">{part.quantity}</td>
							{#if page.data.user?.role === 'manager'}<td class="num"
									>{part.unitCostMinor === undefined ? '–' : format.amount(part.unitCostMinor)}</td
								>{/if}
							<td class="text-right"><StrikeOut list="parts" index={i} what="part {i + 1}" /></td>
						</tr>
					{/each}
				</tbody>
			</table>
		{:else}<p class="text-ink-soft">None yet.</p>{/if}
		{#if open}
			<form class="mt-2 flex flex-wrap gap-2" onsubmit={usePart}>
				<select class="field w-44 flex-1" aria-label="Part" bind:value={sku}>
					<option value="">part from stock</option>
					{#each bench.parts as part (part.sku)}<option value={part.sku}>{part.label}</option>{/each}
				</select>
				<input class="field figure w-16" aria-label="Quantity" inputmode="decimal" bind:value={quantity} />
				<input
					class="field figure w-36"
					aria-label="Lot, if not the oldest"
					placeholder="oldest lot"
					bind:value={lot}
				/>
				<button class="btn btn-small">Use part</button>
			</form>
		{/if}
	</section>
</div>
<ScrewsPanel />
