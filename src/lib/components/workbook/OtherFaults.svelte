<script lang="ts">
	import type { OtherFaults } from '$lib/server/tickets/other-faults';
	import { useFormat } from '../ui/shop-context';

	/** What was found where no code stands for it: words that come back may deserve one. */
	let { others, manager }: { others: OtherFaults; manager: boolean } = $props();
	const format = useFormat();
</script>

{#if others.label === null}
	<p class="text-ink-soft">
		No fault in this catalog stands for all others. A manager can mark one in Settings, Faults.
	</p>
{:else if others.list.length === 0}
	<p class="text-ink-soft">
		No ticket was closed with “{others.label}” and a description yet.
	</p>
{:else}
	<p class="mb-2 text-ink-soft">
		From the newest <span class="figure">{others.read}</span> closed tickets. A description that repeats may
		deserve its own code{#if manager}: <a class="link" href="/settings/catalog?kind=fault">Faults</a>{/if}.
	</p>
	<table class="ledger">
		<thead>
			<tr>
				<th>Description</th>
				<th class="num">Tickets</th>
				<th class="max-sm:hidden">Models</th>
				<th>Latest</th>
			</tr>
		</thead>
		<tbody>
			{#each others.list as { words, times, models, number, closedAt } (number)}
				<tr>
					<td>{words}</td>
					<td class="num">{times}</td>
					<td class="max-sm:hidden">{models.join(', ')}</td>
					<td class="whitespace-nowrap"
						><a class="link figure" href="/tickets/{number}">{number}</a><span
							class="block text-sm text-ink-soft">{format.date(closedAt)}</span
						></td
					>
				</tr>
			{/each}
		</tbody>
	</table>
{/if}
