<script lang="ts">
	import { percent, percentRange } from '$lib/core/units/percent';
	import { nounFor } from '$lib/core/units/noun';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import { useDesk } from './desk.svelte';
	import { groupBy } from '$lib/core/units/group-by';
	import StrikeOut from './StrikeOut.svelte';
	let { bench }: { bench: BenchCatalog } = $props();
	const desk = useDesk();
	const odds = $derived(desk.odds);
	const breadth = (chance: number) => `${(chance * 100).toFixed(1)}%`;
	const times = (factor: number) =>
		factor < 0.01 ? '×<0.01' : `×${factor.toFixed(factor < 1 ? 2 : factor < 10 ? 1 : 0)}`;
	const { opinions, closedAt } = $derived(desk.view.ticket);
	const guessed = $derived(opinions.some(({ from }) => from === 'technician'));
	const labelOf = (fault: string) => bench.faults.find(({ code }) => code === fault)?.label ?? fault;
	const nameOf = (by: string | undefined) => bench.technicians.find(({ code }) => code === by)?.name ?? by;
	function guess(event: Event & { currentTarget: HTMLSelectElement }) {
		const fault = event.currentTarget.value;
		if (fault) void desk.send({ verb: 'opinion', from: 'technician', fault });
	}
	const leanings = {
		for: { mark: 'For:', style: 'border-b-[1.5px] border-agrees text-agrees' },
		against: { mark: 'Against:', style: 'border-b-[1.5px] border-short text-short' },
		neither: { mark: 'No difference:', style: '' }
	};
	/** less than a twentieth either way is neither for nor against */
	const leaningOf = (factor: number) =>
		Math.abs(Math.log(factor)) < 0.05 ? 'neither' : factor > 1 ? 'for' : 'against';
	/** reasons by what they speak for, each kind named once */
	const byLeaning = (reasons: (typeof odds.faults)[number]['reasons']) =>
		[...groupBy(reasons, ({ factor }) => leaningOf(factor))].map(([leaning, alike]) => ({
			...leanings[leaning],
			alike
		}));
	/** how many reasons stand behind those shown, and what they come to */
	const behind = ({ reasons, more }: (typeof odds.faults)[number]) => ({
		count: Math.max(0, reasons.length - FIRST) + (more?.count ?? 0),
		factor: reasons.slice(FIRST).reduce((all, { factor }) => all * factor, more?.factor ?? 1)
	});
	/** reasons that stand there at once; the others on asking */
	const FIRST = 2;
	/** faults that stand there at once */
	const LIKELY = 3;
	let whole = $state(false);
	let shown = $state<string | null>(null);
	/** what was not sent along with a change is asked for when somebody wants to see it */
	function open(code: string) {
		shown = shown === code ? null : code;
		if (shown !== null) void desk.askReasons();
	}
	function showAll() {
		whole = !whole;
		if (whole) void desk.askReasons();
	}
	/** An interval as wide as this says nothing. A choice. */
	const TOO_WIDE = 0.8;
	const vague = $derived(odds.faults.slice(0, 1).find(({ low, high }) => high - low > TOO_WIDE));
	const spread = (code: string, i: number) => shown === code || (shown === null && i === 0);
</script>

<section class="slip py-2" aria-labelledby="odds-title" aria-live="polite">
	<div class="mb-1 flex items-baseline justify-between gap-2">
		<h2 id="odds-title">{odds.ofNow ? 'Odds, now' : 'Odds'}</h2>
		<span class="text-right text-sm text-ink-soft">
			{#if desk.view.behind > 0}<span class="figure">{desk.view.behind}</span>
				{nounFor(desk.view.behind, 'closed ticket')} imported {desk.view.behind === 1 ? 'is' : 'are'} being processed;
				so far
			{/if}{#if odds.learnedFrom === 0}no closed ticket yet: starting chances only{:else}from <span
					class="figure">{odds.learnedFrom}</span
				>
				{nounFor(odds.learnedFrom, 'closed ticket')}, <span class="figure">{odds.fromModel}</span> of this model{/if}
		</span>
	</div>
	{#if odds.faults.length === 0}
		<p class="text-ink-soft">
			The catalog has no faults, so nothing can be ranked. A manager can add them in Settings.
		</p>
	{/if}
	{#if vague}
		<p class="mb-1 border-l-[5px] border-edge-strong pl-2 text-[0.87rem] leading-snug">
			Too few cases for a sure order: the first may be anything from
			<span class="figure">{percent(vague.low)}</span> to <span class="figure">{percent(vague.high)}</span>.
			Measure next before you rely on it.
		</p>
	{/if}
	<ol>
		{#each whole ? odds.faults.slice(0, 2 * LIKELY) : odds.faults.slice(0, LIKELY) as fault, i (fault.code)}
			<li class="border-b border-dotted border-edge-strong/60 py-px last:border-0">
				<button
					class="flex w-full items-baseline justify-between gap-2 text-left"
					aria-expanded={spread(fault.code, i)}
					onclick={() => open(fault.code)}
				>
					<span class={i === 0 ? 'font-semibold' : ''}>{fault.label}</span>
					<span class="figure whitespace-nowrap">{percent(fault.probability)}</span>
				</button>
				<div
					class="relative my-0.5 h-[7px] bg-bar-ground"
					title="{percentRange(fault.low, fault.high)}: 80 % interval, {fault.from} {nounFor(
						fault.from,
						'closed ticket'
					)} with this fault"
				>
					<div class="absolute inset-y-0 left-0 bg-bar" style:width={breadth(fault.probability)}></div>
					<div
						class="absolute top-[2px] h-[3px] bg-range"
						style:left={breadth(fault.low)}
						style:width={breadth(Math.max(0.004, fault.high - fault.low))}
					></div>
				</div>
				{#if spread(fault.code, i)}
					<p class="text-[0.85rem] leading-snug text-ink-soft">
						<span class="figure">{percentRange(fault.low, fault.high)}</span>, from
						<span class="figure">{fault.from}</span>
						{nounFor(fault.from, 'case')}; usually <span class="figure">{percent(fault.usual)}</span>
						{#each byLeaning(whole ? fault.reasons : fault.reasons.slice(0, FIRST)) as { mark, style, alike } (mark)}
							<span class="block"
								>{mark}
								{#each alike as reason, k (reason.words)}{k > 0 ? ', ' : ''}<span
										class="inline-block {style}"
										title={times(reason.factor)}
										>{reason.words}{#if whole}
											<span class="figure">{times(reason.factor)}</span>{/if}</span
									>{/each}</span
							>{/each}
						{#if behind(fault).count > 0}
							<button
								class="underline decoration-dotted"
								title={times(behind(fault).factor)}
								onclick={showAll}
								>{#if whole}fewer{:else}{behind(fault).count} more{/if}</button
							>
						{/if}
					</p>
				{/if}
			</li>
		{/each}
	</ol>
	{#if whole}
		<p class="mt-1 text-[0.85rem] text-ink-soft">
			{#each odds.pairs as pair (pair.labels.join())}
				{pair.labels.join(' and ')} at once <span class="figure">{percent(pair.probability)}</span>.{' '}
			{/each}
		</p>
	{/if}
	{#each opinions as { from, fault, by }, index (index)}
		<p class="mt-0.5 flex items-baseline justify-between gap-2 text-[0.87rem] leading-snug">
			<span
				><span class="text-ink-soft"
					>{from === 'customer' ? 'Customer’s claim' : `First guess by ${nameOf(by) ?? 'somebody'}`}</span
				>
				{labelOf(fault)}</span
			>
			<StrikeOut list="opinions" {index} what={labelOf(fault)} />
		</p>
	{/each}
	{#if closedAt === null && !guessed && desk.may('opinion')}
		<p class="mt-1 flex items-center gap-2 text-[0.85rem]">
			{@render none()}
			<label class="ml-auto whitespace-nowrap text-ink-soft" for="first-guess">Your first guess</label>
			<select id="first-guess" class="field min-h-6 w-24 min-w-0 py-0" onchange={guess}>
				<option value="">none yet</option>
				{#each bench.faults as { code, label } (code)}<option value={code}>{label}</option>{/each}
			</select>
		</p>
	{:else}<p class="mt-1 text-[0.85rem]">{@render none()}</p>{/if}
</section>
{#snippet none()}<span class="whitespace-nowrap text-ink-soft"
		>Something else <span class="figure">{percent(odds.none)}</span></span
	>{/snippet}
