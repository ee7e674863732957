<script lang="ts">
	import { keyToAction } from '$lib/components/ui/key-to-action';
	import { percent } from '$lib/core/units/percent';
	import { codeWords } from '$lib/core/units/code';
	import { useFormat } from '../ui/shop-context';
	import type { StepView } from '$lib/core/diagnosis/plan/plan-view';
	import { useDesk } from './desk.svelte';
	let {
		onstart,
		onclose
	}: { onstart: (step: Pick<StepView, 'kind' | 'code'>) => void; onclose: () => void } = $props();
	const desk = useDesk();
	const format = useFormat();
	const plan = $derived(desk.plan);
	const next = $derived(plan.steps);
	const first = $derived(next[0]);
	const figure = ({ kind, costMinor, minutes }: Pick<StepView, 'kind' | 'costMinor' | 'minutes'>) =>
		costMinor !== undefined
			? format.amount(costMinor)
			: kind === 'give-up'
				? ''
				: `${Math.round(minutes)} min`;
	/** how the first is better than another: in money where it is seen, else in minutes; it may cost less and take longer */
	const better = (a: StepView, b: StepView) => {
		if (a.costMinor !== undefined && b.costMinor !== undefined)
			return `saves ${format.amount(b.costMinor - a.costMinor)} compared with`;
		const minutes = Math.round(b.minutes - a.minutes);
		return minutes > 0
			? `saves ${minutes} min compared with`
			: `takes ${-minutes} min more and costs less than`;
	};
	/** Both schools in money, or minutes: measure first or swap first, and how far ahead of the next best that is. */
	const schools = $derived.by(() => {
		if (!first || !plan.schools || first.kind === 'give-up') return null;
		const measures = first.kind === 'test' || first.kind === 'measure';
		const other = measures ? plan.schools.swap : plan.schools.measure;
		// less than three minutes decide nothing
		if (other.tie || Math.abs(other.minutes - first.minutes) < 3)
			return 'Measure or replace first: no real difference.';
		const saves = `${measures ? 'Measuring' : 'Replacing'} first ${better(first, other)} ${measures ? 'the best repair' : 'the best test'}`;
		return `${saves}.`;
	});
	/** those that cost about as much share a line */
	const ties = $derived(next.slice(1).filter(({ tie }) => tie));
	const others = $derived(next.slice(1).filter(({ tie }) => !tie));
	/** what stood first before the plan looked further, where that is another step */
	const before = $derived.by(() => {
		const [quick] = desk.view.plan.steps;
		const same = quick?.kind === first?.kind && quick?.code === first?.code;
		return quick && first && !same ? quick : null;
	});
	const open = $derived(desk.view.ticket.closedAt === null);
	/** nothing is repaired of what its customer declined */
	const declined = $derived(desk.view.ticket.accepted === false);

	function keys(event: KeyboardEvent) {
		if (!open || keyToAction({ s: 'start' }, event) === null) return;
		if (first && !declined) onstart(first);
		else onclose();
	}
</script>

<svelte:window onkeydown={keys} />

{#if open}
	<section class="slip border-l-[5px] border-l-copper py-2" aria-labelledby="next-title">
		<div class="flex items-baseline justify-between gap-2">
			<h2 id="next-title">Next step</h2>
			<span
				class="text-sm text-ink-soft"
				title={first?.costMinor === undefined
					? 'bench time to the end'
					: 'expected cost to the end, on average'}
				aria-live="polite"
				>{!first || plan.gone || declined
					? ''
					: desk.thinking
						? 'Looking ahead…'
						: `Looked ${plan.ahead} steps ahead.`}</span
			>
		</div>
		{#if declined}
			<p class="text-[1.07rem] font-semibold">Declined: return it unrepaired, or make a new offer.</p>
			<p class="mt-1 flex flex-wrap gap-2">
				<button class="btn btn-copper" onclick={onclose}>Close as declined <span class="key">S</span></button>
			</p>
		{:else if first}
			<div class="flex items-baseline justify-between gap-2 text-[1.07rem] font-semibold">
				<span>{first.label}</span>
				<span class="figure">{figure(first)}</span>
			</div>
			<div class="flex items-start justify-between gap-3">
				<p class="text-[0.93rem] leading-snug text-ink-soft">{first.why}</p>
				<button class="btn btn-copper btn-small mt-0.5" onclick={() => onstart(first)}
					>{first.kind === 'give-up' ? 'Close' : 'Start'} <span class="key">S</span></button
				>
			</div>
			{#if first.caution}<p class="mt-0.5 text-[0.87rem] leading-snug font-semibold text-short">
					▲ {first.caution}
				</p>{/if}
			{#if before}<p class="mt-0.5 text-[0.87rem] leading-snug text-low">
					◐ Changed after a deeper look: {before.label} was advised before.
				</p>{/if}
			{#if schools}<p class="mt-0.5 text-[0.87rem] leading-snug">{schools}</p>{/if}
			<ul class="text-[0.9rem]">
				{#if ties.length > 0}
					<li class="leading-snug">
						<span class="text-ink-soft">Equally good:</span>
						{#each ties as step, i (step.kind + step.code)}{i > 0 ? ', ' : ' '}<button
								class="text-left hover:underline"
								onclick={() => onstart(step)}>{step.label}</button
							>{/each}
					</li>
				{/if}
				{#each others.slice(0, plan.gone ? 4 : 1) as step (step.kind + step.code)}
					<li class="flex items-baseline justify-between gap-2 leading-snug">
						<button class="text-left hover:underline" onclick={() => onstart(step)}>{step.label}</button>
						<span class="figure text-ink-soft">{step.kind === 'prove' ? '' : figure(step)}</span>
					</li>
				{/each}
			</ul>
			{#if first.outcomes.length > 0}<details class="mt-1 text-[0.87rem]">
					<summary>What the answer would change</summary>
					<ul class="mt-0.5">
						{#each first.outcomes as { answer, chance, leads } (answer)}
							<li class="border-t border-edge py-0.5">
								<span class="flex justify-between gap-2 font-semibold"
									><span>{codeWords(answer)}</span><span class="figure font-normal text-ink-soft"
										>{percent(chance)}</span
									></span
								>
								{#each leads as { label, before, after } (label)}
									<span class="flex justify-between gap-2 leading-snug"
										><span>{label}</span><span class="figure"
											>{percent(before)} →
											<b class={after > before ? 'text-agrees' : 'text-short'}>{percent(after)}</b></span
										></span
									>
								{:else}<span class="text-ink-soft">the fault is fixed</span>{/each}
							</li>
						{/each}
					</ul>
				</details>{/if}
		{:else}
			<div class="flex items-start justify-between gap-3">
				<p class="leading-snug">The fault is fixed and every check is passed.</p>
				<button class="btn btn-copper btn-small" onclick={onclose}>Close it <span class="key">S</span></button
				>
			</div>
		{/if}
	</section>
{/if}
