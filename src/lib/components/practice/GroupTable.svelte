<script lang="ts">
	import { percent } from '$lib/core/units/percent';
	import { rateWords } from './rate-words';
	import type { Group, Rate } from '$lib/core/diagnosis/record/track-record';

	/** Tickets by model, fault or month: how often the odds were right beside the model's usual fault. */
	let {
		title,
		of,
		groups,
		id
	}: {
		title: string;
		/** what a row is */
		of: string;
		/** `named`: how often it was right where it stood first */
		groups: (Group & { label: string; named?: Rate })[];
		id: string;
	} = $props();
	/** where none is counted there is no share */
	const figure = ({ share, outcomes }: Rate) => (outcomes > 0 ? percent(share) : '–');
	const named = $derived(groups.some(({ named }) => named));
</script>

<section class="slip overflow-x-auto" aria-labelledby={id}>
	<h2 {id} class="mb-1">{title}</h2>
	<table class="ledger">
		<thead
			><tr
				><th>{of}</th><th class="num">Tickets</th><th class="num">Right first</th><th class="num">Three</th
				><th class="num">Usual fault</th>{#if named}<th class="num">When named</th>{/if}<th class="num"
					>Log loss</th
				></tr
			></thead
		>
		<tbody>
			{#each groups as { key, label, count, first, three, usualFirst, logLoss, few, named: right } (key)}
				<tr>
					<td>{label}</td>
					<td class="num">{count}</td>
					{#if few}
						<td class="text-right text-sm text-ink-soft" colspan={named ? 5 : 4}>too few to say</td>
					{:else}
						<td class="num whitespace-nowrap"
							>{figure(first)}<span class="block text-xs text-ink-soft">{rateWords(first)}</span></td
						>
						<td class="num">{figure(three)}</td>
						<td class="num text-ink-soft">{figure(usualFirst)}</td>
						{#if named}<td class="num">{right ? figure(right) : '–'}</td>{/if}
						<td class="num">{logLoss.toFixed(3)}</td>
					{/if}
				</tr>
			{/each}
		</tbody>
	</table>
</section>
