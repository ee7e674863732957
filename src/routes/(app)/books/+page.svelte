<script lang="ts">
	import { nounFor } from '$lib/core/units/noun';
	import { goto } from '$app/navigation';
	import MonthChart from '$lib/components/books/MonthChart.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	let { data } = $props();
	const format = useFormat();
	const address = (change: { model?: string; month?: string }) => {
		const { model, month } = { ...data.asked, ...change };
		return `/books?${new URLSearchParams({ model, month })}`;
	};
	const percent = (share: number) => `${Math.round(100 * share)} %`;
	const toned = (minor: number) => (minor < 0 ? 'text-short' : '');
</script>

<svelte:head><title>Books · Tavrek</title></svelte:head>

<div class="slip mb-3 flex flex-wrap items-baseline gap-x-9 gap-y-2">
	<h1>Books</h1>
	{#if data.total}
		<p>
			<span class="figure text-2xl {toned(data.total.profitMinor)}"
				>{format.money(data.total.profitMinor)}</span
			> <span class="text-ink-soft">profit</span>
		</p>
		<p>
			<span class="figure text-lg">{format.amount(data.total.paidMinor)}</span>
			<span class="text-ink-soft">paid</span>
		</p>
		<p>
			<span class="figure text-lg">{format.amount(data.total.partsMinor)}</span>
			<span class="text-ink-soft">parts</span>
		</p>
		<p>
			<span class="figure text-lg">{format.amount(data.total.labourMinor)}</span>
			<span class="text-ink-soft">labour</span>
		</p>
		<p class="text-ink-soft">
			<span class="figure">{data.total.tickets}</span>
			{nounFor(data.total.tickets, 'closed ticket')}{#if data.total.profitPerHourMinor !== null},
				<span class="figure">{format.amount(data.total.profitPerHourMinor)}</span> an hour of hands{/if}
		</p>
	{/if}
	<span class="ml-auto flex gap-3 text-sm text-ink-soft"
		>As files:{#each ['tickets', 'models', 'months', 'customers'] as table (table)}
			<a class="link" href="/books/{table}.csv" download>{table}</a>{/each}</span
	>
	{#if data.asked.month || data.asked.model}<a class="btn btn-small" href="/books">All months and models</a
		>{/if}
</div>
{#if data.months.length === 0}
	<p class="slip text-ink-soft">No ticket is closed yet. The books begin with the first.</p>
{:else}
	<div class="grid items-start gap-3 lg:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]">
		<div class="grid gap-3">
			<section class="slip" aria-labelledby="by-month">
				<h2 id="by-month" class="mb-2">Profit by month{data.asked.model ? ' of this model' : ''}</h2>
				<MonthChart
					months={data.months}
					chosen={data.asked.month}
					onchoose={(month) => goto(address({ month }), { noScroll: true })}
				/>
			</section>
			<section class="slip overflow-x-auto" aria-labelledby="tickets">
				<h2 id="tickets" class="mb-1">
					Tickets, latest first{data.count > data.lines.length
						? ` (${data.lines.length} of ${data.count})`
						: ''}
				</h2>
				<table class="ledger">
					<thead
						><tr
							><th>Number</th><th>Closed</th><th>Model</th><th class="num">Paid</th><th class="num">Parts</th
							><th class="num">Labour</th><th class="num">Profit</th></tr
						></thead
					>
					<tbody>
						{#each data.lines as line (line.number)}
							<tr>
								<td><a class="link figure" href="/tickets/{line.number}">{line.number}</a></td>
								<td class="whitespace-nowrap">{format.date(line.closedAt)}</td>
								<td
									>{line.label}{#if line.comebackOf}<span class="block text-sm text-ink-soft"
											>borne by <span class="figure">{line.comebackOf}</span></span
										>{:else if line.bears > 0}<span class="block text-sm text-high"
											>△ bears {line.bears} {line.bears === 1 ? 'comeback' : 'comebacks'}</span
										>{/if}</td
								>
								<td class="num">{format.amount(line.paidMinor)}</td>
								<td class="num">{format.amount(line.partsMinor)}</td>
								<td class="num">{format.amount(line.labourMinor)}</td>
								<td class="num {toned(line.profitMinor)}">{format.amount(line.profitMinor)}</td>
							</tr>
						{/each}
					</tbody>
				</table>
			</section>
		</div>
		<div class="grid gap-3">
			<section class="slip overflow-x-auto" aria-labelledby="by-model">
				<h2 id="by-model" class="mb-1">By model{data.asked.month ? `, ${data.asked.month}` : ''}</h2>
				<table class="ledger">
					<thead
						><tr
							><th>Model</th><th class="num">Tickets</th><th class="num">Paid</th><th class="num">Profit</th
							><th class="num">An hour</th></tr
						></thead
					>
					<tbody>
						{#each data.models as sum (sum.key)}
							<tr class={sum.key === data.asked.model ? 'bg-wash' : ''}>
								<td
									><a class="link" href={address({ model: sum.key === data.asked.model ? '' : sum.key })}
										>{sum.label}</a
									></td
								>
								<td class="num">{sum.tickets}</td>
								<td class="num">{format.amount(sum.paidMinor)}</td>
								<td class="num {toned(sum.profitMinor)}">{format.amount(sum.profitMinor)}</td>
								<td class="num"
									>{sum.profitPerHourMinor === null ? '–' : format.amount(sum.profitPerHourMinor)}</td
								>
							</tr>
						{/each}
					</tbody>
				</table>
			</section>
			<section class="slip overflow-x-auto" aria-labelledby="quotes">
				<h2 id="quotes" class="mb-1">Quotes against what the jobs cost, worst first</h2>
				{#if data.quotes.length === 0}<p class="text-ink-soft">No accepted quote is closed yet.</p>{:else}
					<table class="ledger">
						<thead
							><tr
								><th>Model</th><th class="num">Jobs</th><th class="num">Quoted</th><th class="num">Cost</th
								><th
									class="num"
									title="jobs that cost more than was quoted, with the 80 % interval of their share"
									>Overran</th
								><th class="num" title="the price at which these jobs would just have paid">Pays from</th></tr
							></thead
						>
						<tbody>
							{#each data.quotes as sum (sum.key)}
								<tr>
									<td>{sum.label}</td>
									<td class="num">{sum.jobs}</td>
									<td class="num">{format.amount(Math.round(sum.quotedMinor))}</td>
									<td class="num">{format.amount(Math.round(sum.costMinor))}</td>
									<td class="num"
										>{percent(sum.overran / sum.jobs)}<span
											class="ml-3 inline-block w-24 text-sm text-ink-soft"
											>{percent(sum.share.low)}–{percent(sum.share.high)}</span
										></td
									>
									<td class="num {(sum.breakEvenMinor ?? 0) > sum.quotedMinor ? 'text-short' : ''}"
										>{sum.breakEvenMinor === null ? '–' : format.amount(Math.round(sum.breakEvenMinor))}</td
									>
								</tr>
							{/each}
						</tbody>
					</table>
				{/if}
			</section>
			<section class="slip overflow-x-auto" aria-labelledby="customers">
				<h2 id="customers" class="mb-1">Customers, dearest to the shop first</h2>
				<table class="ledger">
					<thead
						><tr
							><th>Customer</th><th class="num">Tickets</th><th class="num">Paid</th><th class="num"
								>Profit</th
							></tr
						></thead
					>
					<tbody>
						{#each [...data.kinds.map( (sum) => ({ ...sum, kind: true }) ), ...data.customers.map( (sum) => ({ ...sum, kind: false }) )] as sum (sum.kind + sum.key)}
							<tr class={sum.kind ? 'font-semibold' : ''}>
								<td>{sum.kind ? `all ${sum.key}` : sum.key}</td>
								<td class="num">{sum.tickets}</td>
								<td class="num">{format.amount(sum.paidMinor)}</td>
								<td class="num {toned(sum.profitMinor)}">{format.amount(sum.profitMinor)}</td>
							</tr>
						{/each}
					</tbody>
				</table>
			</section>
			<section class="slip overflow-x-auto" aria-labelledby="months">
				<h2 id="months" class="mb-1">Months</h2>
				<table class="ledger">
					<thead
						><tr
							><th>Month</th><th class="num">Tickets</th><th class="num">Paid</th><th class="num">Parts</th
							><th class="num">Labour</th><th class="num">Profit</th></tr
						></thead
					>
					<tbody>
						{#each [...data.months].reverse() as sum (sum.key)}
							<tr class={sum.key === data.asked.month ? 'bg-wash' : ''}>
								<td
									><a
										class="link figure"
										href={address({ month: sum.key === data.asked.month ? '' : sum.key })}>{sum.key}</a
									></td
								>
								<td class="num">{sum.tickets}</td>
								<td class="num">{format.amount(sum.paidMinor)}</td>
								<td class="num">{format.amount(sum.partsMinor)}</td>
								<td class="num">{format.amount(sum.labourMinor)}</td>
								<td class="num {toned(sum.profitMinor)}">{format.amount(sum.profitMinor)}</td>
							</tr>
						{/each}
					</tbody>
				</table>
			</section>
		</div>
	</div>
{/if}
