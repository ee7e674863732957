<script lang="ts">
	import { formatReading } from '$lib/core/readings/typed-reading';
	import type { LeanedOn } from '$lib/server/known-good/withdrawn';
	import { VERDICT_LOOK } from '../ticket/verdict-look';

	let { leaned }: { leaned: LeanedOn } = $props();
	const changed = $derived(leaned.verdicts.filter(({ before, after }) => before !== after).length);
</script>

<section class="slip overflow-x-auto" aria-labelledby="leaned">
	<h2 id="leaned" class="mb-1 text-base text-ink">
		Withdrawn: {leaned.reference.pin} read <span class="figure">{formatReading(leaned.reference)}</span>
	</h2>
	<p>
		{leaned.reference.withdrawn?.because}. <span class="figure">{leaned.total}</span>
		{leaned.total === 1 ? 'verdict' : 'verdicts'} were based on it, <span class="figure">{changed}</span> of
		those shown {changed === 1 ? 'is' : 'are'} different now.
	</p>
	{#if leaned.verdicts.length > 0}
		<table class="ledger mt-1">
			<thead><tr><th>Ticket</th><th class="num">Read</th><th>With it</th><th>Without</th></tr></thead>
			<tbody>
				{#each leaned.verdicts as { number, closed, shown, before, after }, i (i)}
					<tr class={before === after ? 'text-ink-soft' : 'font-semibold'}>
						<td><a class="link figure" href="/tickets/{number}">{number}</a> {closed ? 'closed' : 'open'}</td>
						<td class="num">{formatReading(shown)}</td>
						<td class={VERDICT_LOOK[before].text}
							><span aria-hidden="true">{VERDICT_LOOK[before].shape}</span> {VERDICT_LOOK[before].word}</td
						>
						<td class={VERDICT_LOOK[after].text}
							><span aria-hidden="true">{VERDICT_LOOK[after].shape}</span> {VERDICT_LOOK[after].word}</td
						>
					</tr>
				{/each}
			</tbody>
		</table>
	{/if}
</section>
