<script lang="ts">
	import { percent } from '$lib/core/units/percent';
	import { enhance } from '$app/forms';
	import type { SubmitFunction } from '@sveltejs/kit';
	import { onMount, untrack } from 'svelte';
	import { nounFor } from '$lib/core/units/noun';
	import Field from '../ui/Field.svelte';
	import { useFormat } from '../ui/shop-context';
	import type { ChosenPart, FormState } from './shelf-view';

	let {
		part,
		form,
		hands,
		scanned
	}: { part: ChosenPart; form: FormState; hands: boolean; scanned: string | null } = $props();
	const format = useFormat();
	/** a lot that was scanned is the one that is counted, and the hand is at its number */
	let picked = $state(untrack(() => ({ move: scanned ?? '', donor: scanned ?? '' })));
	onMount(() => {
		if (scanned) document.getElementById('move-quantity')?.focus();
	});
	let why = $state('count');
	/** forms begin anew once what was typed is done */
	let round = $state(0);
	/** the lot that was picked, as long as it has stock; else the oldest */
	const lotOf = (form: 'move' | 'donor') =>
		(part.lots.find(({ lot }) => lot === picked[form]) ?? part.lots[0])?.lot ?? '';
	const sent: SubmitFunction =
		() =>
		async ({ update, result }) => {
			await update({ reset: false });
			if (result.type !== 'success') return;
			round += 1;
			// the next label
			if (scanned) document.getElementById('scan')?.focus();
		};
	const tenth = (value: number) => value.toFixed(value < 10 ? 1 : 0);
	const problem = (name: string, field: string) =>
		form?.form === name ? (form.problems?.[field] ?? null) : null;
	const kept = (name: string, field: string) => (form?.form === name ? (form.kept?.[field] ?? '') : '');
</script>

<h2 class="flex flex-wrap items-baseline gap-x-3">
	{part.label}<span class="figure text-sm font-normal text-ink-soft">{part.sku}</span>
</h2>
<p class="text-sm text-ink-soft">
	{#if part.fill !== null}
		Used <span class="figure">{tenth(part.perWeek.mean)}</span> a week (80 %:
		<span class="figure">{tenth(part.perWeek.low)}–{tenth(part.perWeek.high)}</span>, from
		<span class="figure">{Math.round(part.perWeek.fromWeeks)}</span>
		{nounFor(Math.round(part.perWeek.fromWeeks), 'week')}). Comes after
		<span class="figure">{tenth(part.lead.mean)}</span> days ({part.lead.from === 0
			? 'as stated, no delivery yet'
			: `${part.lead.from} ${nounFor(part.lead.from, 'delivery', 'deliveries')}`}){part.supplierLabel
			? `, ${part.supplierLabel}`
			: ''}. Ordered so, <span class="figure">{percent(part.fill)}</span> of the pieces are there at once.
	{:else}
		Never used yet, so there is no reorder point.
	{/if}
	{#if part.short > 0}
		<span class={part.missed ? 'font-semibold text-short' : ''}
			>{part.missed ? '▼ ' : ''}{part.short} used so far without stock in any lot{part.missed
				? ', recently: count the shelf'
				: ''}.</span
		>
	{/if}
</p>

<section class="mt-3" aria-label="Lots">
	<h3>Lots, oldest first</h3>
	{#if part.lots.length === 0}<p class="text-ink-soft">No lot has stock.</p>{:else}
		<table class="ledger">
			<thead
				><tr
					><th>Lot</th><th>Received</th><th>Source</th><th class="num">On hand</th
					>{#if part.unitMinor !== null}<th class="num">Unit cost</th>{/if}</tr
				></thead
			>
			<tbody>
				{#each part.lots as lot (lot.lot)}
					<tr>
						<td class="figure whitespace-nowrap"
							>{lot.lot}
							<a class="link ml-1 font-sans text-sm" href="/shelf/label/{lot.lot}" target="_blank"
								>label<span class="sr-only"> of {lot.lot}</span></a
							></td
						>
						<td class="whitespace-nowrap">{format.date(lot.receivedAt)}</td>
						<td>{[lot.source, lot.supplier].filter(Boolean).join(', ') || '–'}</td>
						<td class="num">{lot.onHand}</td>
						{#if lot.unitMinor !== null}<td class="num">{format.amount(lot.unitMinor)}</td>{/if}
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
</section>

{#if hands}{#key round}
		<form
			method="POST"
			action="?/receive&part={part.sku}"
			use:enhance={sent}
			class="mt-3 flex flex-wrap items-end gap-2"
		>
			<input type="hidden" name="sku" value={part.sku} />
			<Field
				id="came"
				name="quantity"
				label="Received"
				figure
				inputmode="decimal"
				initial={kept('receive', 'quantity')}
				error={problem('receive', 'quantity')}
				class="w-28"
			/>
			{#if part.unitMinor !== null}
				<Field
					id="came-cost"
					name="unit_cost"
					label="Unit cost"
					figure
					inputmode="decimal"
					initial={kept('receive', 'unit_cost') || (part.unitMinor / 100).toFixed(2)}
					error={problem('receive', 'unitMinor')}
					class="w-28"
				/>
			{/if}
			<button class="btn btn-copper">Take in</button>
			{@render refusals('receive', ['quantity', 'unitMinor'])}
		</form>
		{#if part.lots.length > 0}
			<form
				method="POST"
				action="?/move&part={part.sku}"
				use:enhance={sent}
				class="mt-3 flex flex-wrap items-end gap-2"
			>
				{@render lotChoice('move')}
				<Field id="move-why" name="why" label="What" select bind:value={why} class="w-52">
					<option value="count">counted, on hand now</option>
					<option value="scrap">scrapped</option>
					<option value="return">returned to supplier</option>
				</Field>
				<Field
					id="move-quantity"
					name="quantity"
					label="Pieces"
					figure
					inputmode="decimal"
					initial={kept('move', 'quantity')}
					error={problem('move', 'quantity')}
					class="w-24"
				/>
				<Field
					id="move-note"
					name="note"
					label="Note"
					initial={kept('move', 'note')}
					class="min-w-32 flex-1"
				/>
				<button class="btn">Save</button>
				{@render refusals('move', ['quantity'])}
			</form>
			{#if part.yields.length > 0}
				<form
					method="POST"
					action="?/harvest&part={part.sku}"
					use:enhance={sent}
					class="mt-3 border-l-[5px] border-copper bg-wash px-3 py-2"
				>
					<h3>Harvest donors</h3>
					<p class="text-sm text-ink-soft">
						Good parts become a lot with a share of the donors’ cost; the more parts are lost, the more each
						costs.
					</p>
					{#each part.learnt as { sku, label, donors, good, perDonor } (sku)}
						{#if donors > 0}<p class="text-sm">
								So far <span class="figure">{good}</span> × {label} of <span class="figure">{donors}</span>
								donors: <span class="figure">{perDonor.toFixed(2)}</span> each are expected{part.unitMinor ===
									null || perDonor === 0
									? ''
									: `, at ${format.amount(part.unitMinor / perDonor)} of a donor’s cost`}.
							</p>{/if}
					{/each}
					<div class="mt-1 flex flex-wrap items-end gap-2">
						{@render lotChoice('donor')}
						<Field
							id="donors"
							name="donors"
							label="Donors harvested"
							figure
							inputmode="decimal"
							initial={kept('harvest', 'donors') || '1'}
							error={problem('harvest', 'donors')}
							class="w-28"
						/>
						{#each part.yields as { sku, label, quantity } (sku)}
							<Field
								id="gave-{sku}"
								name="gave:{sku}"
								label="{label}, good ones of {quantity} each"
								figure
								inputmode="decimal"
								initial={kept('harvest', `gave:${sku}`) || String(quantity)}
								class="w-64"
							/>
						{/each}
						<button class="btn">Harvest</button>
					</div>
					{@render refusals('harvest', ['donors'])}
				</form>
			{/if}
		{/if}
	{/key}{/if}

{#snippet lotChoice(which: 'move' | 'donor')}
	<Field
		id="{which}-lot"
		name="lot"
		label="Lot"
		select
		bind:value={() => lotOf(which), (lot) => (picked[which] = lot)}
		class="w-32"
	>
		{#each part.lots as { lot } (lot)}<option value={lot}>{lot}</option>{/each}
	</Field>
{/snippet}

<!-- what is wrong that no field of the form stands for -->
{#snippet refusals(name: string, fields: string[])}
	{#each Object.entries(form?.form === name ? (form.problems ?? {}) : {}) as [field, message] (field)}
		{#if !fields.includes(field)}<p role="alert" class="w-full text-sm font-semibold text-short">
				{field}
				{message}
			</p>{/if}
	{/each}
{/snippet}
