<script lang="ts">
	import { percent, percentRange } from '$lib/core/units/percent';
	import { chanceOfLossAt, expectedProfitMinor, netOf } from '$lib/core/quoting/price';
	import { depositDue } from '$lib/core/tickets/money';
	import { standingOffer } from '$lib/core/tickets/offer-text';
	import { amountProblem, parseAmount } from '$lib/core/units/money';
	import { useFormat, useShop } from '../ui/shop-context';
	import DeclineReasons from './DeclineReasons.svelte';
	import { useDesk } from './desk.svelte';

	const desk = useDesk();
	const format = useFormat();
	const shop = useShop();
	const price = $derived(desk.price);
	const ticket = $derived(desk.view.ticket);
	const open = $derived(ticket.closedAt === null);
	/** while the handle is moved; null: as quoted or suggested */
	let moved = $state<number | null>(null);
	/** where no price can be named, one may still be typed */
	const named = $derived(price.priceMinor !== null);
	const shown = $derived(moved ?? price.priceMinor ?? 0);
	const floorMinor = $derived(price.costs?.floorMinor ?? null);
	const usualMinor = $derived(price.usualPriceMinor ?? shown);
	let typed = $state<string | null>(null);
	/** the way that the price is for: as it was chosen, else the best */
	let chosen = $state<readonly string[] | null>(null);
	const operations = $derived(
		chosen ?? price.options.find((option) => option.kind === 'repair')?.operations ?? []
	);
	const typedMinor = $derived(typed === null ? (named ? shown : null) : parseAmount(typed, shop.locale));

	const left = 14;
	const width = 300;
	const top = $derived(
		1.15 *
			Math.max(
				price.ceilingMinor ?? 0,
				shown,
				price.priceMinor ?? 0,
				price.costs?.p90 ?? 0,
				price.costs?.floorMinor ?? 0,
				1000
			)
	);
	const x = (minor: number) => left + (Math.min(minor, top) / top) * width;

	/** Density of the cost from its quantiles: equal mass between neighbours, so height is 1 / gap. */
	const hill = $derived.by(() => {
		const quantiles = price.costs?.fixedCostQuantiles ?? [];
		const bins = 44;
		const mass = new Array<number>(bins).fill(0);
		for (const cost of quantiles) {
			const bin = Math.min(bins - 1, Math.floor((Math.min(cost, top) / top) * bins));
			mass[bin] = (mass[bin] ?? 0) + 1;
		}
		const smooth = mass.map((m, i) => (mass[i - 1] ?? 0) * 0.25 + m * 0.5 + (mass[i + 1] ?? 0) * 0.25);
		const most = Math.max(...smooth, 1);
		const points = smooth.map((m, i) => `${left + ((i + 0.5) / bins) * width},${48 - (m / most) * 42}`);
		return `M${left},48 L${points.join(' L')} L${left + width},48 Z`;
	});
	const lossChance = $derived(
		chanceOfLossAt(
			netOf(price, shown),
			price.chanceFixed,
			price.costs?.fixedCostQuantiles ?? [],
			price.costs?.unfixedLoses
		)
	);
	const range = $derived(price.range);
	const isUnknown = $derived(range !== null && (shown < range.lowMinor || shown > range.highMinor));
	/** between the two points that are nearest; null where no such price was asked */
	const accepted = $derived.by(() => {
		const points = price.acceptance;
		const at = points.findIndex(({ priceMinor }) => priceMinor >= shown);
		const [above, below] = [points.at(at), points[at - 1]];
		if (!above || isUnknown) return null;
		if (at < 0 || !below) return above;
		const share = (shown - below.priceMinor) / (above.priceMinor - below.priceMinor);
		const mix = (key: 'chance' | 'low' | 'high') => below[key] + share * (above[key] - below[key]);
		return { chance: mix('chance'), low: mix('low'), high: mix('high'), from: above.from };
	});
	/** what a price brings is not told where nobody knows whether it is accepted */
	const profit = $derived(
		price.costs &&
			!isUnknown &&
			(accepted?.chance ?? 1) *
				expectedProfitMinor(
					netOf(price, shown),
					price.chanceFixed,
					price.costs.meanMinor,
					price.costs.comebackChance,
					{
						comebackCostMinor: price.costs.comebackCostMinor,
						feeMinor: netOf(price, price.costs.feeMinor)
					}
				)
	);
	const VERDICTS = {
		quote: 'Quote now.',
		'diagnose-first': 'Measure first, then quote.',
		'not-worth-it': 'The repair would cost more than the device is worth.'
	};

	const ENDS = {
		'diagnose-first': 'Measure first: that is expected to pay more than any option below.',
		decline: 'Return it unrepaired: no option below is expected to pay.'
	};

	async function quote(event: SubmitEvent) {
		event.preventDefault();
		if (typedMinor === null) return;
		if (await desk.send({ verb: 'quote', priceMinor: typedMinor, operations: [...operations] }))
			moved = typed = chosen = null;
	}
	let declining = $state(false);
	let offering = $state(false);
	const deposit = $derived(depositDue(ticket));
	const standing = $derived(standingOffer(ticket));
	/** comes back under warranty, and nothing says that its user pays: nothing is suggested where nothing was quoted yet */
	const warranted = $derived(
		desk.view.first?.warranty?.state === 'free' &&
			ticket.cameFrom?.pays !== 'customer' &&
			ticket.quotedMinor === null
	);
</script>

<section class="slip py-2" aria-labelledby="price-title">
	<div class="flex items-baseline justify-between gap-2">
		<h2 id="price-title">Price</h2>
		<span class="text-sm text-ink-soft">
			{#if ticket.quotedMinor === null}not quoted yet{:else}quoted <span class="figure font-semibold text-ink"
					>{format.amount(ticket.quotedMinor)}</span
				>{ticket.accepted === null ? ', waits' : ticket.accepted ? ', accepted' : ', declined'}{/if}
		</span>
	</div>
	{#if warranted}
		<p class="mt-1 border-l-[5px] border-agrees bg-paper-2 px-2.5 py-1.5 text-[0.93rem]">
			<strong>Warranty repair of {ticket.comebackOf}: free of charge.</strong> Record the cause when it is found.
			If the customer has to pay for that cause, the price is shown again.
		</p>
	{:else if !named}
		<p class="mt-1 border-l-[5px] border-none bg-paper-2 px-2.5 py-1.5 text-[0.93rem]">
			<strong>No price.</strong>
			{price.unpriced}
		</p>
	{:else}
		<div class="relative">
			<svg viewBox="0 0 {width + 2 * left} 68" class="w-full" aria-hidden="true">
				{#if price.costs}<path d={hill} fill="var(--bar)" opacity="0.3" />{/if}
				<line
					x1={left}
					x2={left + width}
					y1="48"
					y2="48"
					stroke="var(--ink-soft)"
					stroke-dasharray={range ? '1 4' : null}
				/>
				{#if range}
					<line
						x1={x(range.lowMinor)}
						x2={x(range.highMinor)}
						y1="48"
						y2="48"
						stroke="var(--ink)"
						stroke-width="2"
					/>
				{/if}
				{#if floorMinor !== null}
					<line
						x1={x(floorMinor)}
						x2={x(floorMinor)}
						y1="4"
						y2="53"
						stroke="var(--short)"
						stroke-dasharray="3 3"
					/>
				{/if}
				{#if price.ceilingMinor !== null}
					<line
						x1={x(price.ceilingMinor)}
						x2={x(price.ceilingMinor)}
						y1="16"
						y2="53"
						stroke="var(--ink-soft)"
						stroke-dasharray="3 3"
					/>
				{/if}
				{#if usualMinor !== price.priceMinor}
					<path d="M{x(usualMinor)},48 l-4,7 h8 z" fill="none" stroke="var(--ink)" stroke-width="1.2" />
				{/if}
				<path d="M{x(shown) - 8},6 h16 v30 l-8,12 l-8,-12 z" fill="var(--copper)" />
				<path
					d="M{x(shown) - 3},13 v15 m3,-15 v15 m3,-15 v15"
					stroke="var(--copper-ink)"
					stroke-width="1.2"
				/>
				<g class="figure" font-size="11.5" text-anchor="middle" fill="var(--ink)">
					<text x={Math.min(width - 8, Math.max(left + 22, x(shown)))} y="63" font-weight="650"
						>{format.amount(shown)}</text
					>
				</g>
			</svg>
			{#if open}
				<input
					type="range"
					class="absolute inset-x-0 top-0 h-[78%] w-full cursor-ew-resize opacity-0"
					min="0"
					max={Math.round(top / 100)}
					step="1"
					value={Math.round(shown / 100)}
					oninput={(event) => {
						moved = Number(event.currentTarget.value) * 100;
						typed = null;
					}}
					aria-label="Price to try"
					aria-valuetext={format.amount(shown)}
				/>
			{/if}
		</div>
		<dl class="figures">
			{#if price.costs}
				<div>
					<dt>profit</dt>
					<dd>{typeof profit === 'number' ? format.amount(profit) : '?'}</dd>
				</div>
				<div>
					<dt>risk of loss</dt>
					<dd>{percent(lossChance)}</dd>
				</div>
			{/if}
			<div>
				<dt>chance of a yes</dt>
				<dd
					title={accepted
						? `80 % interval ${percent(accepted.low)} to ${percent(accepted.high)}, from ${accepted.from} answered quotes`
						: isUnknown
							? 'no similar price was quoted: not known'
							: 'fewer than ten answered quotes'}
				>
					{accepted ? percent(accepted.chance) : isUnknown ? '?' : '–'}
				</dd>
			</div>
			{#if floorMinor !== null}<div>
					<dt>floor</dt>
					<dd>{format.amount(floorMinor)}</dd>
				</div>{/if}
			<div>
				<dt>chance to fix</dt>
				<dd>{percent(price.chanceFixed)}</dd>
			</div>
			<div>
				<dt title="price at the shop’s usual markup">usual price △</dt>
				<dd>{format.amount(usualMinor)}</dd>
			</div>
		</dl>
		<p class="mt-1 text-[0.84rem] leading-snug text-ink-soft">
			<strong class="text-ink">{VERDICTS[price.verdict]}</strong>
			{#if price.ceilingMinor !== null}Worth <span class="figure">{format.amount(price.ceilingMinor)}</span
				>;{/if}
			<span class="figure">{Math.round(price.minutes.p10)}–{Math.round(price.minutes.p90)}</span> min, typical
			<span class="figure">{Math.round(price.minutes.p50)}</span>{#if price.costs}; cost <span class="figure"
					>{format.amount(price.costs.p10)}–{format.amount(price.costs.p90)}</span
				>, typical <span class="figure">{format.amount(price.costs.p50)}</span>{/if};
			<span class="figure">{price.from}</span>
			jobs{#if accepted}, <span class="figure">{accepted.from}</span> quotes{/if}.
		</p>
		{#if range && isUnknown}
			<p class="mt-1 text-[0.87rem] font-semibold text-low">
				▽ Similar jobs were quoted at <span class="figure"
					>{format.amount(range.lowMinor)} to {format.amount(range.highMinor)}</span
				>; beyond that nothing is known.
			</p>
		{/if}
		{#if open && price.step && moved === null && typed === null}
			<p class="mt-1 flex flex-wrap items-baseline gap-x-2 text-[0.87rem]">
				<button
					type="button"
					class="btn btn-small figure"
					onclick={() => (moved = price.step?.priceMinor ?? null)}
					>{format.amount(price.step.priceMinor)}</button
				>
				<span
					>{price.step.gainMinor === undefined
						? 'may earn more:'
						: `would bring ${format.amount(price.step.gainMinor)} more:`}
					chance of a yes {percent(price.step.chance)}
					<span class="text-ink-soft">({percentRange(price.step.low, price.step.high)})</span></span
				>
			</p>
		{/if}
		{#if price.options.length > 1}
			<details class="mt-1 text-[0.87rem]">
				<summary class="cursor-pointer font-semibold">
					{price.options.length} options compared
				</summary>
				<ol class="mt-1">
					{#each price.options as option, i (i)}
						<li class="border-b border-dotted border-edge py-1">
							{#if option.kind === 'repair'}
								<div class="flex items-baseline justify-between gap-2">
									<span>{option.label}</span>
									{#if open}
										<button
											type="button"
											class="btn btn-small figure"
											aria-label="Try {format.amount(option.priceMinor)}, {option.label}"
											onclick={() => {
												moved = option.priceMinor;
												chosen = option.operations;
												typed = null;
											}}>{format.amount(option.priceMinor)}</button
										>
									{:else}<span class="figure">{format.amount(option.priceMinor)}</span>{/if}
								</div>
								<span class="text-ink-soft"
									>chance to fix {percent(option.chanceFixed)}, chance of a comeback {percent(
										option.comebackChance
									)},
									<span class="figure">{Math.round(option.minutes)}</span> min{#if option.accepted !== null},
										chance of a yes {percent(option.accepted)}{/if}{#if option.profitMinor !== undefined},
										profit
										<span class="figure">{format.amount(option.profitMinor)}</span>{/if}</span
								>
							{:else}{ENDS[option.kind]}{/if}
						</li>
					{/each}
				</ol>
			</details>
		{/if}
		{#if open}
			<form class="mt-1.5 flex flex-wrap items-center gap-1.5" onsubmit={quote}>
				<input
					class="field figure min-h-7 w-24 py-0"
					aria-label="Price to quote"
					aria-invalid={typedMinor === null && typed !== null}
					inputmode="decimal"
					value={typed ?? (named ? (shown / 100).toFixed(2) : '')}
					oninput={(event) => (typed = event.currentTarget.value)}
				/>
				<button class="btn btn-small" disabled={typedMinor === null}
					>{ticket.quotedMinor === null ? 'Quote' : 'New quote'}</button
				>
				<button type="button" class="btn btn-small" onclick={() => (offering = true)}
					>{standing ? `Offer of ${standing.offered.length}…` : 'Offer options…'}</button
				>
				{#if ticket.quotedMinor !== null && ticket.accepted === null && !standing}
					<button
						type="button"
						class="btn btn-small"
						onclick={() => desk.send({ verb: 'answer', accepted: true })}>Accepted</button
					>
					<button type="button" class="btn btn-small" onclick={() => desk.send({ verb: 'take-back' })}
						>Undo</button
					>
					<button
						type="button"
						class="btn btn-small"
						aria-expanded={declining}
						onclick={() => (declining = !declining)}>Declined</button
					>
				{/if}
				{#if declining && ticket.accepted === null}<DeclineReasons done={() => (declining = false)} />{/if}
				{#if deposit > 0}<span class="text-sm text-copper"
						>Deposit of <span class="figure">{format.amount(deposit)}</span> not paid.</span
					>{/if}
				{#if typedMinor === null}<span class="text-sm text-short"
						>The price {amountProblem(typed ?? '')}.</span
					>{/if}
			</form>
		{/if}
	{/if}
</section>
{#if open && offering}{#await import('./OfferSheet.svelte') then { default: OfferSheet }}<OfferSheet
			bind:open={offering}
		/>{/await}{/if}

<style>
	.figures {
		display: grid;
		grid-template-columns: repeat(2, minmax(0, 1fr));
		gap: 0 10px;
		font-size: 0.87rem;
	}
	.figures div {
		display: flex;
		justify-content: space-between;
		border-bottom: 1px dotted var(--edge);
	}
	.figures dt {
		color: var(--ink-soft);
	}
	.figures dd {
		font-family: var(--font-mono);
		font-variant-numeric: tabular-nums;
	}
</style>
