<script lang="ts">
	import type { ComebackRow } from '$lib/core/returns/comeback-rows';
	import type { RateKind } from '$lib/core/returns/followed-jobs';
	import { BY_WORDS, fairWord, FEW_JOBS, percent } from './returns-view';

	/** Rates by row: jobs, comebacks, the chance with its interval drawn, and what is fair of it. */
	let {
		rows,
		by,
		kinds,
		chosen,
		shop,
		address
	}: {
		rows: ComebackRow[];
		by: RateKind;
		kinds: readonly RateKind[];
		chosen: string | null;
		shop: number;
		address: (change: { by?: string; row?: string }) => string;
	} = $props();
	const SHOWN = 14;
	/** a technician is not put in an order, a month stands where it was; of the others those with most jobs come first */
	const ordered = $derived(
		by === 'technician'
			? rows
			: by === 'month'
				? [...rows].reverse().slice(0, SHOWN)
				: [...rows]
						.sort((a, b) => Number(b.alarm !== null) - Number(a.alarm !== null) || b.jobs - a.jobs)
						.slice(0, SHOWN)
	);
	const most = $derived(
		Math.min(
			1,
			1.1 *
				Math.max(
					shop,
					0.1,
					...ordered.map(({ rate, high, jobs }) => (jobs < FEW_JOBS ? rate : (high ?? rate)))
				)
		)
	);
	const x = (share: number) => (120 * Math.min(most, share)) / most;
	const ratioAt = (ratio: number) => 50 + 25 * Math.log2(Math.min(4, Math.max(0.25, ratio)));
</script>

<section class="slip overflow-x-auto" aria-labelledby="rates">
	<div class="mb-1 flex flex-wrap items-baseline gap-x-3 gap-y-1">
		<h2 id="rates">Comeback rates</h2>
		<nav class="ml-auto flex flex-wrap gap-1 text-sm" aria-label="Rates by">
			{#each kinds as kind (kind)}
				<a
					class="btn btn-small"
					href={address({ by: kind, row: '' })}
					aria-current={kind === by ? 'true' : undefined}
					data-sveltekit-noscroll>{BY_WORDS[kind]}</a
				>
			{/each}
		</nav>
	</div>
	{#if ordered.length === 0}
		<p class="text-ink-soft">
			{by === 'method'
				? 'No job followed a procedure yet. Start one with “Follow a procedure” on its ticket.'
				: 'No figures yet: jobs count once they are closed as fixed.'}
		</p>
	{:else}
		<table class="ledger">
			<thead>
				<tr>
					<th>{BY_WORDS[by]}</th>
					<th class="num">Jobs</th>
					<th class="num">Back</th>
					<th class="num" title="chance of a comeback within these days (Kaplan–Meier)">Rate</th>
					<th title="95 % interval; the line is the shop’s rate">Interval</th>
					{#if by !== 'month' && by !== 'supplier'}
						<th
							title="rate compared with the shop’s usual rate for the same jobs, 80 % interval; the line is 1"
							>Compared with similar jobs</th
						>
					{/if}
				</tr>
			</thead>
			<tbody>
				{#each ordered as row (row.key)}
					{@const few = row.jobs < FEW_JOBS}
					<tr class={row.key === chosen ? 'bg-wash' : ''}>
						<td>
							<a
								class="link {by === 'lot' ? 'figure' : ''}"
								href={address({ row: row.key === chosen ? '' : row.key })}
								aria-current={row.key === chosen ? 'true' : undefined}
								data-sveltekit-noscroll>{row.label}</a
							>{#if row.alarm}<span class="ml-1 text-short" title="early warning"
									>▲<span class="sr-only"> early warning</span></span
								>{/if}
						</td>
						<td class="num">{row.jobs}</td>
						<td class="num">{row.comebacks}</td>
						<td class="num {few ? 'text-ink-soft' : ''}">{percent(row.rate, 1)}</td>
						<td>
							<svg viewBox="0 0 120 14" width="120" height="14" aria-hidden="true">
								<line x1={x(shop)} x2={x(shop)} y1="0" y2="14" stroke="var(--ink-soft)" />
								{#if row.low !== null && row.high !== null}
									<line
										x1={x(row.low)}
										x2={x(row.high)}
										y1="7"
										y2="7"
										stroke={few ? 'var(--edge-strong)' : 'var(--range)'}
										stroke-width="3"
										stroke-dasharray={few ? '2 3' : undefined}
									/>
								{/if}
								<rect
									x={x(row.rate) - 3}
									y="4"
									width="6"
									height="6"
									transform="rotate(45 {x(row.rate)} 7)"
									fill={few ? 'var(--edge-strong)' : 'var(--copper)'}
								/>
							</svg>
							<span class="sr-only"
								>{row.low === null || row.high === null
									? 'no interval'
									: `${percent(row.low, 1)} to ${percent(row.high, 1)}`}</span
							>
						</td>
						{#if by !== 'month' && by !== 'supplier'}
							<td class="whitespace-nowrap">
								{#if few}<span class="text-ink-soft">too few jobs</span>
								{:else if row.fair}
									{@const says = fairWord(row.fair)}
									<svg viewBox="0 0 100 14" width="84" height="14" class="mr-1.5 inline" aria-hidden="true">
										<line x1="50" x2="50" y1="0" y2="14" stroke="var(--ink-soft)" />
										<line
											x1={ratioAt(row.fair.low)}
											x2={ratioAt(row.fair.high)}
											y1="7"
											y2="7"
											stroke="var(--bar)"
											stroke-width="3"
										/>
										<circle cx={ratioAt(row.fair.ratio)} cy="7" r="3.5" fill="var(--ink)" />
									</svg><span
										class="figure text-sm"
										title="80 %: {row.fair.low.toFixed(2)} to {row.fair.high.toFixed(2)}"
										>×{row.fair.ratio.toFixed(2)}</span
									>
									<span class="text-sm {says.tone}">{says.mark} {says.word}</span>
								{/if}
							</td>
						{/if}
					</tr>
				{/each}
			</tbody>
		</table>
		{#if rows.length > ordered.length}<p class="mt-1 text-sm text-ink-soft">
				{rows.length - ordered.length} more with fewer jobs.
			</p>{/if}
	{/if}
</section>
