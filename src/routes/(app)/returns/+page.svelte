<script lang="ts">
	import { page } from '$app/state';
	import ComebackCurve from '$lib/components/returns/ComebackCurve.svelte';
	import EarlyWarnings from '$lib/components/returns/EarlyWarnings.svelte';
	import Funnel from '$lib/components/returns/Funnel.svelte';
	import RateTable from '$lib/components/returns/RateTable.svelte';
	import ReturnsNav from '$lib/components/returns/ReturnsNav.svelte';
	import { Newest } from '$lib/components/ui/newest.svelte';
	import { percent } from '$lib/components/returns/returns-view';
	import { useFormat } from '$lib/components/ui/shop-context';
	import { nounFor } from '$lib/core/units/noun';
	let { data } = $props();
	const format = useFormat();
	const newest = new Newest(() => data);
	const view = $derived(newest.view);
	const chosen = $derived(view.chosen);
	const address = (change: { by?: string; row?: string; days?: number }) => {
		const asked = {
			by: view.by as string,
			row: chosen.key ?? '',
			days: String(view.days),
			...Object.fromEntries(Object.entries(change).map(([key, value]) => [key, String(value)]))
		};
		const query = Object.entries(asked)
			.filter(([, value]) => value !== '')
			.map(([key, value]) => `${key}=${encodeURIComponent(value)}`);
		return `${page.url.pathname}?${query.join('&')}`;
	};
	const interval = (low: number | null, high: number | null) =>
		low === null || high === null ? 'no interval' : `${percent(low, 1)} to ${percent(high, 1)}`;
	const beside = $derived(
		chosen.beside &&
			(chosen.beside.p > 0.1
				? 'no clear difference'
				: chosen.beside.observed > chosen.beside.expected
					? 'come back more often'
					: 'come back less often')
	);
</script>

<svelte:head><title>Returns · Tavrek</title></svelte:head>

<div class="slip mb-2.5 flex flex-wrap items-baseline gap-x-7 gap-y-1">
	<h1>Returns</h1>
	<p>
		<span class="figure text-2xl">{percent(view.shop.rate, 1)}</span>
		<span class="text-ink-soft"
			>of {view.shop.jobs} fixed {nounFor(view.shop.jobs, 'job')} come back within {view.days} days,
			<span class="figure">{interval(view.shop.low, view.shop.high)}</span></span
		>
	</p>
	<nav class="flex gap-1 text-sm" aria-label="Days">
		{#each data.days as each (each)}
			<a
				class="btn btn-small figure"
				href={address({ days: each })}
				aria-current={each === view.days ? 'true' : undefined}
				data-sveltekit-noscroll>{each}</a
			>
		{/each}
	</nav>
	<ReturnsNav here="rates" />
	<p class="text-sm text-ink-soft">as of {format.moment(view.asOf)}{newest.pending ? ', updating' : ''}</p>
</div>
<EarlyWarnings alarms={view.alarms} older={view.olderAlarms} mayClear={data.mayClear} {address} />
<div class="grid items-start gap-2.5 lg:grid-cols-[minmax(0,1.45fr)_minmax(300px,1fr)]">
	<div class="grid gap-2.5">
		<RateTable
			rows={view.rows}
			by={view.by}
			kinds={data.kinds}
			chosen={chosen.key}
			shop={view.shop.rate}
			{address}
		/>
		{#if view.advice && view.advice.lengths.length > 0}
			<section class="slip overflow-x-auto" aria-labelledby="lengths">
				<h2 id="lengths">Cost of warranty</h2>
				<p class="mb-1 text-sm text-ink-soft">
					A comeback costs {format.money(view.advice.meanMinor)} on average, from {view.advice.from} that were closed.
					Each repair costs this much more, by length of warranty:
				</p>
				<table class="ledger">
					<thead
						><tr
							><th class="num">Days</th><th class="num">Come back</th><th class="num">95 %</th><th class="num"
								>Cost per job</th
							><th class="num">Last month</th><th class="num">Observed this long</th></tr
						></thead
					>
					<tbody>
						{#each view.advice.lengths as length (length.days)}
							<tr
								><td class="num">{length.days}</td><td class="num">{percent(length.rate, 1)}</td><td
									class="num">{interval(length.low, length.high)}</td
								><td class="num">{format.amount(length.costMinor)}</td><td class="num"
									>{format.amount(length.monthMinor)}</td
								><td class="num">{length.followed}</td></tr
							>
						{/each}
					</tbody>
				</table>
			</section>
		{/if}
	</div>
	<div class="grid gap-2.5">
		<section class="slip" aria-labelledby="closer">
			<h2 id="closer">{chosen.label}</h2>
			<p class="text-sm text-ink-soft">
				<span class="figure text-ink">{percent(chosen.rate.rate, 1)}</span> of {chosen.rate.jobs}
				{nounFor(chosen.rate.jobs, 'job')} by day {view.days}, {interval(chosen.rate.low, chosen.rate.high)}
			</p>
			{#if chosen.curve.length > 0}<ComebackCurve curve={chosen.curve} days={view.days} />{:else}<p
					class="py-2"
				>
					None of these came back yet.
				</p>{/if}
			{#if chosen.beside}
				<p class="mt-1 text-[0.93rem]">
					Compared with {chosen.beside.jobs} other jobs of the same work and time: <strong>{beside}</strong>
					<span class="text-ink-soft"
						>({chosen.beside.observed} came back, {chosen.beside.expected.toFixed(1)} expected; log-rank p
						<span class="figure">{chosen.beside.p < 0.001 ? '< .001' : chosen.beside.p.toFixed(3)}</span
						>)</span
					>.
				</p>
			{/if}
			{#if chosen.causes.length > 0}
				<h3 class="mt-2 font-semibold">Why</h3>
				<table class="ledger">
					<tbody>
						{#each chosen.causes as cause (cause.cause)}
							<tr
								><td>{cause.label}</td><td class="num">{cause.comebacks}</td><td
									class="num"
									title="share of the jobs, with other causes competing">{percent(cause.share, 1)}</td
								></tr
							>
						{/each}
					</tbody>
				</table>
			{/if}
		</section>
		{#if view.funnel.length > 0 && view.by !== 'technician'}
			<section class="slip" aria-labelledby="funnel">
				<h2 id="funnel">Chance or pattern</h2>
				<Funnel limits={view.funnel} rows={view.rows} usual={view.shop.rate} chosen={chosen.key} />
				<p class="text-sm text-ink-soft">
					Horizontal: number of jobs. 95 of 100 rows with the shop’s usual rate lie within the dashed lines,
					998 of 1,000 within the solid ones.
				</p>
			</section>
		{/if}
	</div>
</div>
