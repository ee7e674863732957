<script lang="ts">
	import { percent, percentRange } from '$lib/core/units/percent';
	import { useFormat } from '../ui/shop-context';
	import { BY_WORDS, HEADS, type By, type PayRow } from './books-view';

	let {
		rows,
		by,
		chosen,
		address
	}: {
		rows: PayRow[];
		by: By;
		chosen: string;
		address: (change: { by?: string; model?: string }) => string;
	} = $props();
	const format = useFormat();
	const toned = (minor: number) => (minor < 0 ? 'text-short' : '');
	const hour = (row: PayRow) => (row.perHour === null ? '–' : format.amount(row.perHour));
	const quoted = $derived(by === 'model' || by === 'operation');
	const whole = $derived(by !== 'technician');
</script>

<section class="slip relative overflow-x-auto" aria-labelledby="pays">
	<div class="mb-1 flex flex-wrap items-baseline gap-x-3 gap-y-1">
		<h2 id="pays">
			{whole ? 'Profitability, worst first' : 'Profit per hour of bench time'}
		</h2>
		<nav class="ml-auto flex flex-wrap gap-1 text-sm" aria-label="Sums by">
			{#each Object.entries(BY_WORDS) as [name, words] (name)}
				<a
					class="btn btn-small"
					href={address({ by: name })}
					aria-current={name === by ? 'true' : undefined}
					data-sveltekit-noscroll>{words}</a
				>
			{/each}
		</nav>
	</div>
	{#if rows.length === 0}<p class="text-ink-soft">No closed ticket here.</p>{:else}
		<table class="ledger">
			<thead
				><tr
					><th>{HEADS[by]}</th><th class="num">{whole ? 'Jobs' : 'Tickets'}</th>{#if whole}<th
							class="num"
							title="beneath: parts and labour">Paid, cost</th
						>{:else}<th class="num">Hours</th>{/if}<th
						class="num"
						title={whole ? 'beneath: an hour of hands' : undefined}
						>{whole ? 'Profit, per hour' : 'Profit'}</th
					>{#if whole}<th class="num" title="profit of a job on average, with the 80 % interval of that mean"
							>Per job</th
						>{:else}<th class="num">Per hour</th>{/if}{#if quoted}<th
							class="num"
							title="jobs that cost more than was quoted, with the 80 % interval of their share"
							>Over estimate</th
						><th class="num" title="the price at which these jobs would have broken even">Break-even price</th
						>{/if}</tr
				></thead
			>
			<tbody>
				{#each rows as row (row.key)}
					<tr class={by === 'model' && row.key === chosen ? 'bg-wash' : ''}>
						<td
							>{#if by === 'model'}<a
									class="link"
									href={address({ model: row.key === chosen ? '' : row.key })}
									data-sveltekit-noscroll>{row.label}</a
								>{:else}{row.label}{/if}</td
						>
						<td class="num">{whole ? row.mean.from : row.tickets}</td>
						{#if whole}
							<td class="num"
								>{format.amount(row.paidMinor)}<span class="block text-sm text-ink-soft"
									>{format.amount(row.costMinor)}</span
								></td
							>
						{:else}<td class="num">{(row.minutes / 60).toFixed(1)}</td>{/if}
						<td class="num {toned(row.profitMinor)}"
							>{format.amount(row.profitMinor)}{#if whole}<span class="block text-sm text-ink-soft"
									>{hour(row)}</span
								>{/if}</td
						>
						{#if whole}<td class="num {toned(row.mean.mean)} whitespace-nowrap"
								>{format.amount(row.mean.mean)}<span class="block text-sm text-ink-soft"
									>{row.mean.low === null || row.mean.high === null
										? row.mean.from === 1
											? 'one job'
											: ''
										: `${format.amount(row.mean.low)} to ${format.amount(row.mean.high)}`}</span
								></td
							>{:else}<td class="num">{hour(row)}</td>{/if}
						{#if quoted}
							<td class="num whitespace-nowrap"
								>{#if row.quoted.jobs === 0}–{:else}{percent(row.quoted.overran / row.quoted.jobs)}<span
										class="block text-sm text-ink-soft"
										>{percentRange(row.quoted.share.low, row.quoted.share.high)} of {row.quoted.jobs}</span
									>{/if}</td
							>
							<td class="num {(row.quoted.breakEvenMinor ?? 0) > row.quoted.quotedMinor ? 'text-short' : ''}"
								>{row.quoted.breakEvenMinor === null
									? '–'
									: format.amount(row.quoted.breakEvenMinor)}{#if row.quoted.jobs > 0}<span
										class="block text-sm text-ink-soft">quoted {format.amount(row.quoted.quotedMinor)}</span
									>{/if}</td
							>
						{/if}
					</tr>
				{/each}
			</tbody>
		</table>
		{#if !whole}
			<p class="mt-1 text-sm text-ink-soft">
				In catalog order. A ticket’s profit is shared by minutes. Hard jobs earn less per hour, whoever does
				them.
			</p>
		{/if}
	{/if}
</section>
