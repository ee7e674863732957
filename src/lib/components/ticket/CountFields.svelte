<script lang="ts">
	import { codeWords } from '$lib/core/units/code';
	import { readNumberWithin } from '$lib/core/units/typed-number';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import { useDesk } from './desk.svelte';
	import StrikeOut from './StrikeOut.svelte';

	/** How many of what a repair depends on were counted: pads, wires, contacts. Minutes and price follow. */
	let { bench, at }: { bench: BenchCatalog; at: string } = $props();
	const desk = useDesk();
	const counts = $derived(desk.ticket.counts);
	const open = $derived(desk.may('count'));
	let typed = $state<Record<string, string>>({});
	let problem = $state('');

	function note(event: SubmitEvent, what: string) {
		event.preventDefault();
		const text = typed[what] ?? '';
		const number = readNumberWithin(text, 0, 1000);
		if (number === null || !Number.isInteger(number)) {
			problem = `${codeWords(what)} is “${text}”; write a number such as 3`;
			return;
		}
		problem = '';
		void desk.send({ verb: 'count', what, number });
		typed[what] = '';
	}
</script>

{#if bench.counted.length > 0 && (open || counts.length > 0)}
	<div class="mt-3 flex flex-wrap items-center gap-x-4 gap-y-1.5">
		{#each bench.counted as { counted: what, usual, operation } (what)}
			{@const last = counts.findLastIndex((count) => count.what === what)}
			<form class="flex items-center gap-1.5" onsubmit={(event) => note(event, what)}>
				<label for="count-{at}-{what}" title={`${operation}: usually ${usual}`}
					>Torn or missing {codeWords(what)}</label
				>
				{#if open}
					<input
						id="count-{at}-{what}"
						class="field figure w-16"
						inputmode="numeric"
						placeholder={last < 0 ? '–' : String(counts[last]?.number)}
						bind:value={typed[what]}
					/>
					<button class="btn btn-small" disabled={!typed[what]?.trim()}>Count</button>
				{/if}
				{#if last >= 0}<strong class="figure">{counts[last]?.number}</strong>
					<StrikeOut list="counts" index={last} what="count of {codeWords(what)}" />{/if}
			</form>
		{/each}
		<p role="alert" class="text-sm font-semibold text-short empty:hidden">{problem}</p>
	</div>
{/if}
