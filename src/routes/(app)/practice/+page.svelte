<script lang="ts">
	import { percent } from '$lib/core/units/percent';
	import { nounFor } from '$lib/core/units/noun';
	import { invalidate } from '$app/navigation';
	import { FEW_TICKETS, type Forecaster } from '$lib/core/diagnosis/record/track-record';
	import CalibrationChart from '$lib/components/practice/CalibrationChart.svelte';
	import GroupTable from '$lib/components/practice/GroupTable.svelte';
	import { rateWords } from '$lib/components/practice/rate-words';
	import AsOf from '$lib/components/ui/AsOf.svelte';
	import { Newest } from '$lib/components/ui/newest.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	let { data } = $props();
	const format = useFormat();
	const newest = new Newest(() => data);
	const seen = $derived(newest.view);
	const record = $derived(seen.record);
	/** what is shown rests on fewer tickets than there were to foretell */
	const isBehind = $derived(seen.progress.done < seen.progress.total);

	// what is being foretold comes in by itself
	$effect(() => {
		if (!data.working && !isBehind) return;
		const later = setTimeout(() => void invalidate('tavrek:practice'), data.working ? 1500 : 5000);
		return () => clearTimeout(later);
	});

	const ways = $derived.by((): { name: string; detail: string; of: Forecaster }[] => {
		if (!record) return [];
		const { bench, counter, usual, guess } = record;
		const rows = [
			{ name: 'Odds before the first repair', detail: 'with all that was seen and measured', of: bench },
			{ name: 'Odds at the counter', detail: 'with symptoms and claims only', of: counter },
			{ name: 'Usual faults of the model', detail: 'without any evidence', of: usual }
		];
		if (!guess) return rows;
		const of = `on the ${guess.own.logLoss.count} ${nounFor(guess.own.logLoss.count, 'ticket')} with one`;
		return [
			...rows,
			{ name: 'The technician’s first guess', detail: of, of: guess.own },
			{ name: 'Odds on the same tickets', detail: 'without the guess', of: guess.odds }
		];
	});
	const half = ({ mean, high }: { mean: number; high: number }) =>
		Number.isFinite(high) ? `±${(high - mean).toFixed(3)}` : '';
	const better = $derived(
		record && (record.ahead.low > 0 ? 'better' : record.ahead.high < 0 ? 'worse' : 'unclear')
	);
</script>

<svelte:head><title>Track record · Tavrek</title></svelte:head>

<div class="slip mb-3">
	<div class="flex flex-wrap items-baseline gap-x-9 gap-y-2">
		<h1>Track record</h1>
		<AsOf asOf={newest.asOf} pending={newest.pending} />
		{#if record && !record.few}
			<p>
				<span class="figure text-2xl">{percent(record.bench.first.share)}</span>
				<span class="text-ink-soft"
					>right first, <span class="figure">{rateWords(record.bench.first)}</span></span
				>
			</p>
			<p>
				<span class="figure text-lg">{percent(record.bench.three.share)}</span>
				<span class="text-ink-soft">among the first three</span>
			</p>
			<p class="text-ink-soft">
				{#if better === 'better'}<span class="text-agrees">◆ better than the usual faults of the model</span
					>{:else if better === 'worse'}<span class="text-short"
						>▲ worse than the usual faults of the model</span
					>{:else}no clear difference from the usual faults of the model{/if}: log loss lower by
				<span class="figure">{record.ahead.mean.toFixed(3)} {half(record.ahead)}</span>
			</p>
		{/if}
	</div>
	<p class="mt-1 text-[0.93rem] text-ink-soft">
		{#if record}
			From <span class="figure">{record.count}</span>
			{nounFor(record.count, 'closed ticket')}, {format.date(record.since)} to {format.date(record.until)},
			each predicted only from tickets closed before it.
		{:else if seen.progress.total === 0}
			No ticket was closed with a confirmed fault yet. The record starts with the first.
		{/if}
		{#if isBehind}
			<span role="status">
				Predicting each closed ticket from the ones before it:
				<progress
					class="mx-1 w-40 align-middle"
					aria-label="Tickets predicted"
					value={seen.progress.done}
					max={seen.progress.total}
				></progress>
				<span class="figure">{seen.progress.done} of {seen.progress.total}</span>
			</span>
		{/if}
	</p>
	{#if record?.few}
		<p class="mt-1 font-semibold text-low">
			▽ Too little data: <span class="figure">{record.count}</span> tickets, and with fewer than {FEW_TICKETS} the
			figures are mostly chance.
		</p>
	{/if}
</div>
{#if record}
	<div class="grid items-start gap-3 lg:grid-cols-[minmax(0,1.25fr)_minmax(0,1fr)]">
		<div class="grid gap-3">
			<section class="slip overflow-x-auto" aria-labelledby="ways">
				<h2 id="ways" class="mb-1">Forecasts compared</h2>
				<table class="ledger">
					<thead
						><tr
							><th>Forecast</th><th class="num">Right first</th><th class="num">Among three</th><th
								class="num">Log loss</th
							><th class="num hidden sm:table-cell">Brier</th></tr
						></thead
					>
					<tbody>
						{#each ways as { name, detail, of } (name)}
							<tr>
								<td>{name}<span class="block text-sm text-ink-soft">{detail}</span></td>
								<td class="num"
									>{of.first.outcomes ? percent(of.first.share) : '–'}<span
										class="block text-sm text-ink-soft">{rateWords(of.first)}</span
									></td
								>
								<td class="num"
									>{of.three.outcomes ? percent(of.three.share) : '–'}<span
										class="block text-sm text-ink-soft">{rateWords(of.three)}</span
									></td
								>
								<td class="num"
									>{of.logLoss.mean.toFixed(3)}<span class="block text-sm text-ink-soft"
										>{half(of.logLoss)}</span
									></td
								>
								<td class="num hidden sm:table-cell"
									>{of.brier.mean.toFixed(4)}<span class="block text-sm text-ink-soft">{half(of.brier)}</span
									></td
								>
							</tr>
						{/each}
					</tbody>
				</table>
				<p class="mt-1 text-sm text-ink-soft">
					Right first: a confirmed fault was ranked first. Log loss and Brier score: mean over all faults,
					lower is better; 95 % intervals. Skill over the usual faults: <span class="figure"
						>{record.skill.toFixed(2)}</span
					>.
				</p>
			</section>
			{#if record.cost}
				<section class="slip" aria-labelledby="cost">
					<h2 id="cost" class="mb-1">Cost of the advised plan</h2>
					<div class="flex flex-wrap items-baseline gap-x-8 gap-y-1">
						<p>
							<span class="figure text-lg">{format.amount(record.cost.plan.mean)}</span>
							<span class="text-ink-soft">a job as planned</span>
						</p>
						<p>
							<span class="figure text-lg">{format.amount(record.cost.done.mean)}</span>
							<span class="text-ink-soft">a job as done</span>
						</p>
						<p>
							<span class="figure text-lg {record.cost.saved.low > 0 ? 'text-agrees' : ''}"
								>{format.amount(Math.abs(record.cost.saved.mean))}</span
							>
							<span class="text-ink-soft"
								>{record.cost.saved.mean >= 0 ? 'saved' : 'lost'},
								<span class="figure"
									>{format.amount(record.cost.saved.low)} to {format.amount(record.cost.saved.high)}</span
								></span
							>
						</p>
						<p class="text-ink-soft">
							<span class="figure">{record.cost.plan.count}</span> jobs that were fixed{record.cost.few
								? ': too few to say'
								: ''}
						</p>
					</div>
					<p class="mt-1 text-sm text-ink-soft">
						The advised plan is run against the confirmed faults with the recorded answers; missing answers
						are drawn from the shop’s record. Both use today’s minutes and part prices, each repair once.
					</p>
				</section>
			{/if}
			<section class="slip overflow-x-auto" aria-labelledby="wrong">
				<h2 id="wrong" class="mb-1">Biggest misses</h2>
				{#if record.mostWrong.length === 0}
					<p class="text-ink-soft">None: a confirmed fault was ranked first every time.</p>
				{:else}
					<table class="ledger">
						<thead
							><tr
								><th>Number</th><th>Model</th><th>Ranked first</th><th class="num">Chance</th><th>Was</th><th
									class="num">Chance</th
								></tr
							></thead
						>
						<tbody>
							{#each record.mostWrong as wrong (wrong.number)}
								<tr>
									<td
										><a class="link figure" href="/tickets/{wrong.number}">{wrong.number}</a><span
											class="block text-sm whitespace-nowrap text-ink-soft"
											>{format.date(wrong.closedAt)}</span
										></td
									>
									<td>{wrong.model}</td>
									<td>{wrong.said?.label ?? '–'}</td>
									<td class="num">{wrong.said ? percent(wrong.said.chance) : '–'}</td>
									<td>{wrong.was.join(', ') || 'no fault found'}</td>
									<td class="num">{wrong.was.length ? percent(wrong.wasChance) : '–'}</td>
								</tr>
							{/each}
						</tbody>
					</table>
				{/if}
			</section>
			<GroupTable
				id="by-month"
				title="By month"
				of="Month"
				groups={record.months.map((group) => ({ ...group, label: group.key }))}
			/>
		</div>
		<div class="grid gap-3">
			{#if record.calibration}
				<section class="slip" aria-labelledby="calibration">
					<h2 id="calibration" class="mb-1">Calibration</h2>
					<CalibrationChart bins={record.calibration.bins} />
					<p class="text-sm text-ink-soft">
						Horizontal: predicted chance. Vertical: how often it happened, with the 95 % interval; the dashed
						line is a perfect match. Below: number of predictions.
					</p>
					<p class="mt-1 text-[0.93rem]">
						Difference <span class="figure">{record.calibration.error.toFixed(3)}</span> on average,
						<span class="figure">{record.calibration.errorLoud.toFixed(3)}</span> where 5 % or more was
						predicted; at most <span class="figure">{record.calibration.largestGap.toFixed(2)}</span> in one
						of the ten. A fault that was there ranked above one that was not
						<span class="figure">{Math.round(record.calibration.discrimination * 100)}</span> times of 100.
					</p>
					<p class="mt-1 text-sm text-ink-soft">
						Brier score: uncertainty <span class="figure"
							>{record.calibration.parts.uncertainty.toFixed(4)}</span
						>, minus resolution
						<span class="figure">{record.calibration.parts.resolution.toFixed(4)}</span>, plus miscalibration
						<span class="figure">{record.calibration.parts.reliability.toFixed(4)}</span>.
					</p>
				</section>
			{/if}
			<section class="slip" aria-labelledby="learnt">
				<h2 id="learnt" class="mb-1">Other findings</h2>
				<p class="text-[0.93rem]">
					{#if seen.learnt.fading.length === 0}No change over time: old tickets count like new ones.{:else}Old
						tickets count less, because newer ones show other faults: {#each seen.learnt.fading as { label, keep }, i (label)}{i
								? ', '
								: ''}{label} (<span class="figure">{percent(keep)}</span> for each month){/each}.{/if}
				</p>
				<p class="mt-1 text-[0.93rem]">
					{#if seen.learnt.together.length === 0}No two faults occur together more often than by chance.{:else}Occur
						together more often than by chance: {#each seen.learnt.together as { labels, lift }, i (labels.join())}{i
								? '; '
								: ''}{labels.join(' and ')} (<span class="figure">{lift.toFixed(1)}</span> times){/each}.{/if}
				</p>
				{#if seen.learnt.ownAnswers.length === 0}
					<p class="mt-1 text-[0.93rem]">No model answers differently, as far as the record shows.</p>
				{:else}
					<table class="ledger mt-2">
						<caption class="pb-1 text-left text-[0.93rem]"
							>Models with their own answers, most certain first</caption
						>
						<thead
							><tr
								><th>Model and fault</th><th>Answer</th><th class="num">Here</th><th class="num">Usually</th
								><th class="num">Tickets</th><th class="num">Sure</th></tr
							></thead
						>
						<tbody>
							{#each seen.learnt.ownAnswers as { model, fault, words, here, usual, from, sure } (model + fault + words)}
								<tr
									><td>{model}<span class="block text-sm text-ink-soft">{fault}</span></td><td>{words}</td><td
										class="num">{percent(here)}</td
									><td class="num">{percent(usual)}</td><td class="num">{from}</td><td class="num"
										>{percent(sure)}</td
									></tr
								>
							{/each}
						</tbody>
					</table>
				{/if}
				{#if seen.learnt.sources.length > 0}
					<table class="ledger mt-2">
						<thead
							><tr><th>First guesses and claims</th><th class="num">Times</th><th class="num">Right</th></tr
							></thead
						>
						<tbody>
							{#each seen.learnt.sources as { words, from, chance } (words)}
								<tr><td>{words}</td><td class="num">{from}</td><td class="num">{percent(chance)}</td></tr>
							{/each}
						</tbody>
					</table>
					<p class="mt-1 text-sm text-ink-soft">
						Right: estimated together with others of the same kind. The odds give it this weight.
					</p>
				{/if}
			</section>
			<GroupTable id="by-model" title="By model" of="Model" groups={record.models} />
			<GroupTable id="by-fault" title="By confirmed fault" of="Fault" groups={record.faults} />
		</div>
	</div>
{/if}
