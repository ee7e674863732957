<script lang="ts">
	import { nounFor } from '$lib/core/units/noun';
	import { goto } from '$app/navigation';
	import MonthChart from '$lib/components/books/MonthChart.svelte';
	import MonthTable from '$lib/components/books/MonthTable.svelte';
	import OpenMoney from '$lib/components/books/OpenMoney.svelte';
	import PayTable from '$lib/components/books/PayTable.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	let { data, form } = $props();
	const format = useFormat();
	const address = (change: { model?: string; month?: string; by?: string }) => {
		const { model, month, by } = { ...data.asked, ...change };
		return `/books?${new URLSearchParams({ model, month, by })}`;
	};
	const toned = (minor: number) => (minor < 0 ? 'text-short' : '');
	const FILES = [
		'tickets',
		'models',
		'operations',
		'technicians',
		'months',
		'customers',
		'kinds',
		'outcomes',
		'owed'
	];
	const costs = $derived([
		['paid', data.total.paidMinor],
		...(data.total.taxMinor === 0 ? [] : [['tax', data.total.taxMinor]]),
		['parts', data.total.partsMinor],
		['labour', data.total.labourMinor]
	] as [string, number][]);
</script>

<svelte:head><title>Books · Tavrek</title></svelte:head>

<div class="slip mb-3 flex flex-wrap items-baseline gap-x-7 gap-y-2">
	<h1>Books</h1>
	{#if data.total.tickets > 0}
		<p>
			<span class="figure text-2xl {toned(data.total.profitMinor)}"
				>{format.money(data.total.profitMinor)}</span
			> <span class="text-ink-soft">profit</span>
		</p>
		{#each costs as [name, minor] (name)}
			<p>
				<span class="figure text-lg">{format.amount(minor)}</span>
				<span class="text-ink-soft">{name}</span>
			</p>
		{/each}
		<p class="text-ink-soft">
			<span class="figure">{data.total.tickets}</span>
			{nounFor(data.total.tickets, 'closed ticket')}{#if data.total.perHour !== null},
				<span class="figure">{format.amount(data.total.perHour)}</span> per hour of bench time{/if}
		</p>
	{/if}
	{#if data.asked.month || data.asked.model}<a class="btn btn-small" href="/books">All months and models</a
		>{/if}
	<details class="ml-auto text-sm">
		<summary class="cursor-pointer text-ink-soft">Download</summary>
		<span class="flex flex-wrap gap-3"
			>{#each FILES as table (table)}
				<a class="link" href="/books/{table}.csv" download>{table}</a>{/each}</span
		>
	</details>
</div>
{#if data.months.length === 0}
	<p class="slip text-ink-soft">No ticket is closed yet. Profit shows here after the first.</p>
{:else}
	<div class="grid grid-cols-[minmax(0,1fr)] items-start gap-3 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.55fr)]">
		<div class="grid grid-cols-[minmax(0,1fr)] gap-3">
			<section class="slip" aria-labelledby="by-month">
				<h2 id="by-month" class="mb-2">Profit by month{data.asked.model ? ' of this model' : ''}</h2>
				<MonthChart
					months={data.months}
					chosen={data.asked.month}
					onchoose={(month) => goto(address({ month }), { noScroll: true })}
				/>
			</section>
			<OpenMoney
				open={data.open}
				owed={data.owed}
				came={data.came}
				reserve={data.reserve}
				stock={data.stock}
				today={format.dayKey(Date.now())}
			/>
			<MonthTable
				months={data.months}
				chosen={data.asked.month}
				toClose={data.asked.model ? null : data.toClose}
				problem={form?.problem}
				{address}
			/>
		</div>
		<div class="grid grid-cols-[minmax(0,1fr)] gap-3">
			<PayTable rows={data.rows} by={data.asked.by} chosen={data.asked.model} {address} />
			<section class="slip relative overflow-x-auto" aria-labelledby="tickets">
				<h2 id="tickets" class="mb-1">
					Tickets, newest first{data.total.tickets > data.lines.length
						? ` (${data.lines.length} of ${data.total.tickets})`
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
									>{line.label}{#if line.borne}<span class="block text-sm text-ink-soft"
											>charged to <span class="figure">{line.comebackOf}</span></span
										>{:else if line.bears > 0}<span class="block text-sm text-high"
											>△ charged for {line.bears} {line.bears === 1 ? 'comeback' : 'comebacks'}</span
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
	</div>
{/if}
