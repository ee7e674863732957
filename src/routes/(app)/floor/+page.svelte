<script lang="ts">
	import { onMount } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import HandOverTag from '$lib/components/floor/HandOverTag.svelte';
	import { sendChanges } from '$lib/components/floor/send-change';
	import TicketTag from '$lib/components/floor/TicketTag.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	import { durationWords } from '$lib/core/bench/promise';
	import type { Tag } from '$lib/server/floor/queries';

	let { data } = $props();
	const format = useFormat();
	const tags = $derived(data.floor.tags);
	const today = $derived(format.dayKey(data.floor.now));
	const dueToday = $derived(
		tags.filter(({ promisedAt }) => promisedAt !== null && format.dayKey(promisedAt) <= today)
	);
	const late = $derived(tags.filter(({ urgency }) => urgency === 'late'));
	const others = ['customer', 'part', 'pick-up'];
	const waiting = $derived(tags.filter(({ waits }) => waits.some((wait) => others.includes(wait))));
	const rack = $derived(tags.filter((tag) => !tag.assignedTo && !waiting.includes(tag)));
	const onBench = (code: string) => tags.filter((tag) => tag.assignedTo === code && !waiting.includes(tag));
	const promised = $derived(tags.filter(({ promisedAt }) => promisedAt !== null).slice(0, 12));
	const minutes = $derived(
		tags.filter(({ waits }) => waits.length === 0).reduce((sum, tag) => sum + tag.minutes, 0)
	);
	let chosen = $state.raw<Tag | null>(null);
	let handing = $state(false);
	let problem = $state<string | null>(null);

	function select(tag: Tag) {
		chosen = tag;
		handing = true;
	}
	async function drop(event: DragEvent, to: string | null) {
		event.preventDefault();
		const number = event.dataTransfer?.getData('text/plain');
		const tag = tags.find((candidate) => candidate.number === number);
		if (!tag || tag.assignedTo === to) return;
		problem = await sendChanges(tag, [{ verb: 'hand-over', to }]);
		await invalidateAll();
	}
	onMount(() => {
		const timer = setInterval(() => void invalidateAll(), 30_000);
		return () => clearInterval(timer);
	});
</script>

<svelte:head><title>Floor · Tavrek</title></svelte:head>

<div class="slip mb-3 flex flex-wrap items-center gap-x-9 gap-y-2">
	<h1 class="sr-only">Floor</h1>
	<p>
		<span class="figure text-2xl">{dueToday.length}</span><br /><span class="text-ink-soft"
			>promised for today</span
		>
	</p>
	<p>
		<span class="figure text-2xl {late.length ? 'text-short' : ''}">{late.length}</span><br /><span
			class="text-ink-soft">late at this pace</span
		>
	</p>
	<p>
		<span class="figure text-2xl">{durationWords(minutes * 60_000)}</span><br /><span class="text-ink-soft"
			>of hands expected</span
		>
	</p>
	<p>
		<span class="figure text-2xl">{tags.filter(({ comeback }) => comeback).length}</span><br /><span
			class="text-ink-soft">comebacks in the house</span
		>
	</p>
	<a href="/counter" class="btn btn-copper ml-auto">Take in <span class="key">N</span></a>
</div>
{#if problem}<p role="alert" class="slip mb-3 font-semibold text-short">✕ {problem}</p>{/if}
<div class="grid items-start gap-3 lg:grid-cols-[270px_minmax(0,1fr)]">
	<div class="grid grid-cols-[minmax(0,1fr)] gap-3 rounded bg-well p-3">
		<section
			aria-labelledby="rack"
			ondragover={(event) => event.preventDefault()}
			ondrop={(event) => drop(event, null)}
			role="group"
		>
			<div class="mb-1.5 flex justify-between">
				<h2 id="rack" class="text-ink">On the rack</h2>
				<span class="text-sm"><span class="figure">{rack.length}</span> wait for a bench</span>
			</div>
			<div class="grid grid-cols-[minmax(0,1fr)] gap-2">
				{#each rack as tag (tag.number)}<TicketTag {tag} ondrag={() => {}} onselect={select} />{:else}<p
						class="text-sm"
					>
						Empty: every open ticket is on a bench or waits.
					</p>{/each}
			</div>
		</section>
		<section aria-labelledby="waiting">
			<div class="mb-1.5 flex justify-between">
				<h2 id="waiting" class="text-ink">Waiting for others</h2>
				<span class="figure text-sm">{waiting.length}</span>
			</div>
			<div class="grid grid-cols-[minmax(0,1fr)] gap-2">
				{#each waiting as tag (tag.number)}<TicketTag {tag} ondrag={() => {}} onselect={select} />{:else}<p
						class="text-sm"
					>
						Nobody is waited for.
					</p>{/each}
			</div>
		</section>
	</div>
	<div class="grid gap-3">
		<div
			class="grid items-stretch gap-3 {data.floor.technicians.length > 1
				? 'sm:grid-cols-2 xl:grid-cols-4'
				: ''}"
		>
			{#each data.floor.technicians as person (person.code)}
				{@const bench = onBench(person.code)}
				<section
					class="slip min-h-44 min-w-0 px-2.5"
					aria-labelledby="bench-{person.code}"
					ondragover={(event) => event.preventDefault()}
					ondrop={(event) => drop(event, person.code)}
					role="group"
				>
					<div class="mb-2 flex items-baseline justify-between border-b-2 border-ink pb-1">
						<h2 id="bench-{person.code}" class="text-base font-bold text-ink">{person.name}</h2>
						<span class="text-sm text-ink-soft">{person.skills.join(', ').replace('-', ' and ')}</span>
					</div>
					<div class="grid grid-cols-[minmax(0,1fr)] gap-2">
						{#each bench as tag (tag.number)}
							<div class="rounded-sm border border-edge {tag.waits.length > 0 ? 'hatched' : ''}">
								<TicketTag {tag} ondrag={() => {}} onselect={select} />
							</div>
						{:else}
							<p class="text-sm text-ink-soft">Free. Drag a tag here, or hand one over.</p>
						{/each}
					</div>
					{#if bench.length > 0}
						<p class="mt-2 text-sm text-ink-soft">
							<span class="figure"
								>{durationWords(
									bench.filter(({ waits }) => waits.length === 0).reduce((sum, tag) => sum + tag.minutes, 0) *
										60_000
								)}</span
							> of hands expected
						</p>
					{/if}
				</section>
			{:else}
				<p class="slip">
					No technician yet. The manager adds one under Settings, Catalog; then tickets can be handed to a
					bench.
				</p>
			{/each}
		</div>
		<section class="slip overflow-x-auto" aria-labelledby="promises">
			<h2 id="promises" class="mb-1">Promises, earliest first</h2>
			{#if promised.length === 0}<p class="text-ink-soft">Nothing is promised.</p>{:else}
				<table class="ledger">
					<thead
						><tr
							><th>Promised</th><th>Slack</th><th>Ticket</th><th>Device</th><th>Customer</th><th>Likely</th
							><th>With</th><th>Next</th></tr
						></thead
					>
					<tbody>
						{#each promised as tag (tag.number)}
							<tr>
								<td class="whitespace-nowrap">{format.weekdayTime(tag.promisedAt ?? 0)}</td>
								<td
									class="figure whitespace-nowrap {tag.urgency === 'late'
										? 'text-short'
										: tag.urgency === 'tight'
											? 'text-low'
											: ''}"
									>{tag.slackMs === null
										? ''
										: `${tag.slackMs < 0 ? '▼ −' : ''}${durationWords(tag.slackMs)}`}</td
								>
								<td><a class="link figure" href="/tickets/{tag.number}">{tag.number}</a></td>
								<td>{tag.model}</td>
								<td>{tag.customer ?? ''}</td>
								<td
									>{tag.likely ? `${tag.likely.label} ` : ''}<span class="figure text-sm text-ink-soft"
										>{tag.likely?.probability.toFixed(2) ?? ''}</span
									></td
								>
								<td>{data.floor.technicians.find(({ code }) => code === tag.assignedTo)?.name ?? 'rack'}</td>
								<td>{tag.waits.length > 0 ? `waits for ${tag.waits.join(' and ')}` : tag.next}</td>
							</tr>
						{/each}
					</tbody>
				</table>
			{/if}
		</section>
	</div>
</div>
<HandOverTag bind:open={handing} tag={chosen} technicians={data.floor.technicians} />

<style>
	.hatched {
		border-left: 7px solid;
		border-image: repeating-linear-gradient(45deg, var(--edge-strong) 0 3px, transparent 3px 7px) 7;
	}
</style>
