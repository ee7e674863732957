<script lang="ts">
	import { isCarried } from '$lib/core/units/carried';
	import { PORT_OFF } from '$lib/core/units/stage';
	import { codeWords } from '$lib/core/units/code';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	import PathPanel from './PathPanel.svelte';
	import StrikeOut from './StrikeOut.svelte';

	let { bench, picked }: { bench: BenchCatalog; picked: string | null } = $props();
	const desk = useDesk();
	const format = useFormat();
	const ticket = $derived(desk.ticket);
	const open = $derived(desk.may('observe'));
	const advised = $derived(
		desk.view.plan.steps.filter(({ kind }) => kind === 'test').map(({ code }) => code)
	);
	const stage = $derived(desk.stage);
	const portOff = $derived(
		new Set(bench.tests.flatMap(({ code, isWithPortOff }) => (isWithPortOff ? [code] : [])))
	);
	const done = $derived(
		new Map(ticket.observations.map((observation, index) => [observation.test, { ...observation, index }]))
	);
	/** with the old port off what can be seen then only comes first */
	const isNow = (code: string) => stage === PORT_OFF && portOff.has(code) && !done.has(code);
	const rank = (code: string) => {
		if (code === picked) return -2;
		if (isNow(code)) return -1;
		const at = advised.indexOf(code);
		return done.has(code) ? 200 : at < 0 ? 100 : at;
	};
	/** what a model does not carry is not tested on it */
	const tests = $derived(
		bench.tests
			.filter(({ carries }) => isCarried(carries, desk.view.about.carries))
			.sort((a, b) => rank(a.code) - rank(b.code))
	);
</script>

<PathPanel />
{#if bench.tests.length === 0}
	<p class="text-ink-soft">The catalog has no tests yet. A manager can add them under Settings, Catalog.</p>
{/if}
<ul>
	{#each tests as test (test.code)}
		{@const seen = done.get(test.code)}
		<li
			class="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-edge py-1.5 {test.code === picked
				? 'border-l-[5px] border-l-copper bg-wash pl-3'
				: ''}"
		>
			<div class="min-w-52 flex-1 leading-snug">
				<span class={advised[0] === test.code ? 'font-bold' : 'font-semibold'}>{test.label}</span>
				<span class="text-sm text-ink-soft">
					<span class="figure">{test.minutes}</span> min{#if advised.includes(test.code) && !seen}, advised{/if}</span
				>
				{#if test.caution}<span class="block text-sm font-semibold text-short">▲ {test.caution}</span>{/if}
				{#if seen}<span class="block text-sm text-ink-soft"
						>{codeWords(seen.outcome)}, {seen.at ? format.weekdayTime(seen.at) : 'imported'}
						{seen.by ?? ''}
						<StrikeOut list="observations" index={seen.index} what="check" /></span
					>{/if}
			</div>
			<div class="flex flex-wrap gap-1.5" role="group" aria-label={test.label}>
				{#each test.outcomes as outcome (outcome)}
					<button
						class="btn btn-small"
						disabled={!open}
						aria-pressed={seen?.outcome === outcome}
						onclick={() => desk.send({ verb: 'observe', stage, test: test.code, outcome })}
						>{codeWords(outcome)}</button
					>
				{/each}
			</div>
		</li>
	{/each}
</ul>
