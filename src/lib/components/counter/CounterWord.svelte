<script lang="ts">
	import { percent, percentRange } from '$lib/core/units/percent';
	import type { CounterWord } from '$lib/core/planning/counter-word';
	import { useFormat } from '../ui/shop-context';
	import { fieldOfInstant } from '../ui/local-time';
	import type { Intake } from './intake.svelte';

	/** What to say before the device is accepted: what it likely is, what it may cost, and when it is honestly ready. */
	let { intake, timeZone, promisedAt }: { intake: Intake; timeZone: string; promisedAt: number | null } =
		$props();
	const format = useFormat();
	let word = $state.raw<CounterWord | null>(null);
	let asking = $state(false);
	const asked = $derived(
		JSON.stringify({
			model: intake.fields.modelCode,
			kind: intake.fields.kind,
			matters: intake.fields.matters,
			signs: intake.fields.signs,
			claim: intake.fields.kind === 'trade' ? intake.fields.claim : null,
			promisedAt
		})
	);
	$effect(() => {
		const body = asked;
		if (!intake.fields.modelCode) {
			word = null;
			return;
		}
		const stop = new AbortController();
		const timer = setTimeout(async () => {
			asking = true;
			try {
				const response = await fetch('/counter/word', {
					method: 'POST',
					headers: { 'content-type': 'application/json' },
					body,
					signal: stop.signal
				});
				if (response.ok) {
					word = (await response.json()) as CounterWord;
					intake.promisedChance = word.asked?.chance ?? null;
				}
			} catch {
				// what stands there stands
			}
			asking = false;
		}, 350);
		return () => {
			clearTimeout(timer);
			stop.abort();
		};
	});
	/** it comes back under warranty: no price is said before it is known to be another fault */
	const isFree = $derived(
		intake.visits.some(
			({ number, warranty }) => number === intake.fields.comebackOf && warranty?.state === 'free'
		)
	);
	const inTen = (chance: number) => `${Math.round(10 * chance)} of 10`;
	const promise = () => {
		if (word?.honest) intake.fields.promised = fieldOfInstant(word.honest, timeZone);
	};
</script>

<section class="slip" aria-labelledby="word" aria-busy={asking}>
	<h2 id="word" class="mb-1 text-ink">Estimate</h2>
	{#if !word}
		<p class="text-ink-soft">Choose the model to see the likely fault, the price and when it can be ready.</p>
	{:else}
		<dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1">
			<dt class="text-ink-soft">Price</dt>
			<dd>
				{#if isFree}<strong>free if it is the same fault</strong>
					<span class="text-sm text-ink-soft"
						>under the warranty of {intake.fields.comebackOf}; quoted otherwise</span
					>
				{:else if word.prices}<span class="figure text-lg font-semibold"
						>{word.prices.lowMinor === word.prices.highMinor
							? format.money(word.prices.lowMinor)
							: `${format.money(word.prices.lowMinor)} to ${format.money(word.prices.highMinor)}`}</span
					><span class="text-sm text-ink-soft">
						{' '}depending on the repair. We confirm the price after a look.</span
					>{:else}after a look{/if}
			</dd>
			<dt class="text-ink-soft">Likely</dt>
			<dd>
				{#if word.likely}<strong>{word.likely.label}</strong>
					<span class="figure"
						>{percent(word.likely.probability)}
						<span class="text-sm text-ink-soft">({percentRange(word.likely.low, word.likely.high)})</span
						></span
					><span class="text-sm text-ink-soft"> {' '}from {word.from} closed tickets</span>{:else}not known
					yet{/if}
			</dd>
			<dt class="text-ink-soft">Ready</dt>
			<dd>
				{#if word.honest}<strong>{format.moment(word.honest)}</strong> in {inTen(word.chance)}
					<span class="block text-sm text-ink-soft"
						>{#if word.ready}usually {format.weekdayTime(word.ready.usual)}, {format.weekdayTime(
								word.ready.low
							)} to
							{format.weekdayTime(word.ready.high)} in 8 of 10; {' '}
						{/if}{word.queue} jobs are ahead of it, once the price is approved</span
					>{:else}every planned day is full; do not promise a time yet{/if}
			</dd>
			{#if word.asked}
				<dt class="text-ink-soft">The promise</dt>
				<dd class={word.asked.chance < 0.75 ? 'font-semibold text-short' : ''}>
					{word.asked.chance < 0.75 ? '▼ ' : '● '}{format.moment(word.asked.at)} is met in {inTen(
						word.asked.chance
					)}
				</dd>
			{/if}
		</dl>
		{#if word.honest}
			<button type="button" class="btn mt-2" onclick={promise}
				>Promise {format.weekdayTime(word.honest)}</button
			>
		{/if}
	{/if}
</section>
