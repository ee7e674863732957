<script lang="ts">
	import { enhance } from '$app/forms';
	import type { MonthRow } from '$lib/core/ledger/months';
	import { useFormat } from '../ui/shop-context';

	let {
		months,
		chosen,
		toClose,
		problem,
		address
	}: {
		months: MonthRow[];
		chosen: string;
		toClose: MonthRow | null;
		problem: string | undefined;
		address: (change: { month?: string }) => string;
	} = $props();
	const format = useFormat();
	const toned = (minor: number) => (minor < 0 ? 'text-short' : '');
	let asking = $state(false);
</script>

<section class="slip relative overflow-x-auto" aria-labelledby="months">
	<div class="mb-1 flex flex-wrap items-baseline gap-x-3 gap-y-1">
		<h2 id="months">Months</h2>
		{#if toClose}
			<span class="ml-auto">
				{#if asking}
					<form
						method="POST"
						action="?/close"
						class="flex flex-wrap items-center gap-2"
						use:enhance={() =>
							({ update }) => {
								asking = false;
								return update();
							}}
					>
						<input type="hidden" name="month" value={toClose.month} />
						<input type="hidden" name="seen" value={toClose.profitMinor} />
						<span class="text-sm"
							>Close <span class="figure">{toClose.month}</span> at
							<span class="figure">{format.amount(toClose.profitMinor)}</span>? Later corrections count in the
							next month.</span
						>
						<button class="btn btn-small btn-copper">Close month</button>
						<button type="button" class="btn btn-small" onclick={() => (asking = false)}>Cancel</button>
					</form>
				{:else}<button class="btn btn-small" onclick={() => (asking = true)}>Close {toClose.month}</button
					>{/if}
			</span>
		{/if}
	</div>
	{#if problem}<p class="mb-1 text-short" role="alert">▲ {problem}</p>{/if}
	<table class="ledger">
		<thead
			><tr
				><th>Month</th><th class="num">Tickets</th><th class="num">Paid</th><th class="num">Parts</th><th
					class="num">Labour</th
				><th class="num">Profit</th></tr
			></thead
		>
		<tbody>
			{#each [...months].reverse() as row (row.month)}
				<tr class={row.month === chosen ? 'bg-wash' : ''}>
					<td class="whitespace-nowrap"
						><a
							class="link figure"
							href={address({ month: row.month === chosen ? '' : row.month })}
							data-sveltekit-noscroll>{row.month}</a
						>{#if row.closed}<span class="ml-2 text-sm text-ink-soft">■ closed</span>{/if}</td
					>
					<td class="num">{row.tickets}</td>
					<td class="num">{format.amount(row.paidMinor)}</td>
					<td class="num">{format.amount(row.partsMinor)}</td>
					<td class="num">{format.amount(row.labourMinor)}</td>
					<td class="num {toned(row.profitMinor)}"
						>{format.amount(row.profitMinor)}{#if row.corrected}<span class="block text-sm text-ink-soft"
								>{format.amount(row.corrected.profitMinor)} of closed months</span
							>{/if}</td
					>
				</tr>
			{/each}
		</tbody>
	</table>
</section>
