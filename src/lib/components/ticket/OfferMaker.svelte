<script lang="ts">
	import { depositMinor } from '$lib/core/planning/deposit';
	import { percent } from '$lib/core/units/percent';
	import { untrack } from 'svelte';
	import { page } from '$app/state';
	import type { Shop } from '$lib/core/catalog/catalog';
	import { ASKED_BY } from '$lib/core/tickets/ticket-entries';
	import { closingAhead } from '$lib/core/units/calendar';
	import { DAY_MS } from '$lib/core/units/instant';
	import Field from '../ui/Field.svelte';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	import { blankWay, readOffer, typedWay } from './offer-draft';

	/** Ways beside each other, made ready to be offered: found from the catalog, edited, added by hand. */
	let { made }: { made: () => void } = $props();
	const desk = useDesk();
	const format = useFormat();
	const shop = page.data.shop as Shop;
	const now = untrack(() => desk.view.now);
	const promise = untrack(() => desk.view.ticket.promisedAt);
	const ready = promise !== null && promise > now ? String(Math.ceil((promise - now) / DAY_MS)) : '3';
	let ways = $state(untrack(() => desk.price.drafts.map((draft) => typedWay(draft, ready))));
	let how = $state<(typeof ASKED_BY)[number]>('counter');
	let valid = $state(String(shop.offerDays));
	let deposit = $state(
		untrack(() => {
			const first = desk.price.drafts.find(({ chosen }) => chosen);
			const asked = depositMinor(first?.priceMinor ?? 0, shop.depositShare);
			return asked > 0 ? (asked / 100).toFixed(2) : '';
		})
	);
	let problem = $state('');

	async function offer(event: SubmitEvent) {
		event.preventDefault();
		const read = readOffer(ways, { valid, deposit, how }, { now: Date.now(), locale: shop.locale }, (days) =>
			closingAhead(Date.now(), days, shop.opening)
		);
		problem = read.ok ? '' : read.problem;
		if (!read.ok) return;
		if (await desk.send(read.change)) made();
		else problem = 'Not saved. See the message above the ticket.';
	}
</script>

<form onsubmit={offer}>
	<ol class="space-y-2">
		{#each ways as way, i (i)}
			<li class="rounded border border-edge px-3 py-2 {way.taken ? 'bg-wash' : 'bg-paper-2'}">
				<div class="flex flex-wrap items-center gap-2">
					<input
						type="checkbox"
						class="size-5"
						aria-label="Offer option {i + 1}, {way.label || 'no description'}"
						bind:checked={way.taken}
					/>
					<input
						class="field min-w-40 flex-1 font-semibold"
						aria-label="Option {i + 1} in plain words"
						maxlength="200"
						bind:value={way.label}
					/>
					<label class="flex items-center gap-1 text-sm"
						>price <input class="field figure w-24" inputmode="decimal" bind:value={way.price} /></label
					>
				</div>
				{#if way.taken}
					<div class="mt-1.5 flex flex-wrap items-center gap-x-3 gap-y-1.5 text-sm">
						{#if way.draft?.kind === 'find-out' || way.cap}
							<label class="flex items-center gap-1"
								>not above <input class="field figure w-24" inputmode="decimal" bind:value={way.cap} /></label
							>
						{/if}
						<label class="flex items-center gap-1"
							>warranty <input class="field figure w-16" inputmode="numeric" bind:value={way.warranty} /> days</label
						>
						<label class="flex items-center gap-1"
							>ready in <input class="field figure w-14" inputmode="numeric" bind:value={way.ready} /> days</label
						>
						<input
							class="field min-w-48 flex-1"
							aria-label="Risks of option {i + 1}"
							placeholder="risks"
							maxlength="500"
							bind:value={way.risks}
						/>
					</div>
				{/if}
				{#if way.draft && way.draft.minutes !== null}
					<p class="mt-1 text-sm text-ink-soft">
						chance to fix {percent(way.draft.chanceFixed)}{#if way.draft.comebackChance !== null}, chance of a
							comeback {percent(way.draft.comebackChance)}{/if},
						<span class="figure">{Math.round(way.draft.minutes)}</span>
						min{#if way.draft.accepted !== null}, chance of a yes {percent(
								way.draft.accepted
							)}{/if}{#if way.draft.profitMinor !== null}, profit
							<span class="figure">{format.amount(way.draft.profitMinor)}</span>{/if}
					</p>
				{/if}
			</li>
		{/each}
	</ol>
	<button type="button" class="btn btn-small mt-2" onclick={() => ways.push(blankWay())}
		>Another option</button
	>
	<div class="mt-3 flex flex-wrap items-end gap-3">
		<Field id="offer-valid" label="Valid, days" figure inputmode="numeric" bind:value={valid} class="w-24" />
		<Field id="offer-deposit" label="Deposit" figure inputmode="decimal" bind:value={deposit} class="w-28" />
		<fieldset>
			<legend class="label">Answer by</legend>
			<div class="flex gap-1">
				{#each ASKED_BY.filter((each) => each !== 'page') as name (name)}
					<button type="button" class="btn btn-small" aria-pressed={how === name} onclick={() => (how = name)}
						>{name}</button
					>
				{/each}
			</div>
		</fieldset>
		<button class="btn btn-copper">Offer {ways.filter(({ taken }) => taken).length} options</button>
	</div>
	<p role="alert" class="mt-1 font-semibold text-short empty:hidden">{problem}</p>
</form>
