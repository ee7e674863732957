<script lang="ts">
	import { percent, percentRange } from '$lib/core/units/percent';
	import { durationWords } from '$lib/core/bench/promise';
	import type { PromiseScore } from '$lib/server/floor/promises-kept';
	import type { Tag } from '$lib/server/floor/queries';
	import { useFormat } from '../ui/shop-context';
	import { lateWords } from './late-words';

	/** Promises, earliest first, with the end that is planned; and how promises were kept of late. */
	let {
		tags,
		kept,
		nameOf,
		onhand
	}: {
		tags: readonly Tag[];
		kept: readonly PromiseScore[];
		nameOf: (code: string | null) => string;
		onhand: (tag: Tag) => void;
	} = $props();
	const SHOWN = 200;
	const format = useFormat();
	const promised = $derived(tags.slice(0, SHOWN));
	const [latest] = $derived(kept);
	const share = (score: PromiseScore) => percent(score.kept / score.promised);
	const tone = (tag: Tag) =>
		tag.urgency === 'late' ? 'text-short' : tag.urgency === 'tight' ? 'text-low' : '';
</script>

<section class="slip overflow-x-auto" aria-labelledby="promises">
	<div class="mb-1 flex flex-wrap items-baseline justify-between gap-x-4">
		<h2 id="promises">Promises, earliest first</h2>
		{#if latest}
			<details class="text-sm text-ink-soft">
				<summary>
					promises kept this month: <span class="figure">{latest.kept}</span> of
					<span class="figure">{latest.promised}</span>
				</summary>
				<table class="ledger mt-1">
					<thead
						><tr
							><th>Month</th><th class="num">Promised</th><th class="num">Kept</th><th class="num"
								>Share, 80 %</th
							><th class="num">Predicted</th></tr
						></thead
					>
					<tbody>
						{#each kept as score (score.month)}
							<tr>
								<td class="figure">{score.month}</td>
								<td class="num">{score.promised}</td>
								<td class="num">{score.kept}</td>
								<td class="num">{share(score)} ({percentRange(score.low, score.high)})</td>
								<td class="num">{score.foretold === null ? '–' : percent(score.foretold)}</td>
							</tr>
						{/each}
					</tbody>
				</table>
			</details>
		{/if}
	</div>
	{#if promised.length === 0}<p class="text-ink-soft">No ticket is open.</p>{:else}
		<table class="ledger">
			<thead
				><tr
					><th>Promised</th><th>Planned end</th><th>Slack</th><th>Ticket</th><th>Device</th><th>Customer</th
					><th>With</th><th>Next</th><th><span class="sr-only">Do</span></th></tr
				></thead
			>
			<tbody>
				{#each promised as tag (tag.number)}
					<tr>
						<td class="whitespace-nowrap"
							>{tag.promisedAt === null ? 'no promise' : format.weekdayTime(tag.promisedAt)}</td
						>
						<td class="whitespace-nowrap"
							>{tag.ends === null ? 'not planned' : format.weekdayTime(tag.ends)}</td
						>
						<td class="figure whitespace-nowrap {tone(tag)}"
							>{tag.slackMs === null
								? ''
								: `${tag.slackMs < 0 ? '▼ −' : ''}${durationWords(tag.slackMs)}`}</td
						>
						<td><a class="link figure" href="/tickets/{tag.number}">{tag.number}</a></td>
						<td>{tag.model}</td>
						<td>{tag.customer ?? ''}</td>
						<td>{nameOf(tag.assignedTo)}</td>
						<td
							>{tag.waits.length > 0
								? `waits for ${tag.waits.map((wait) => wait.for).join(' and ')}`
								: (tag.next ?? '')}{#if tag.why && (tag.urgency === 'late' || tag.ends === null)}<span
									class="block text-sm text-short">{lateWords(tag.why, format)}</span
								>{/if}</td
						>
						<td class="text-right"
							><button
								class="link text-sm whitespace-nowrap"
								onclick={() => onhand(tag)}
								aria-label="Pass on {tag.number}">pass on</button
							></td
						>
					</tr>
				{/each}
			</tbody>
		</table>
		{#if tags.length > SHOWN}<p class="mt-2 text-sm text-ink-soft">
				<span class="figure">{tags.length - SHOWN}</span> more under
				<a class="link" href="/tickets?state=open">Tickets, open</a>.
			</p>{/if}
	{/if}
</section>
