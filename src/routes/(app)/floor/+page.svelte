<script lang="ts">
	import { keyToAction } from '$lib/components/ui/key-to-action';
	import { onMount } from 'svelte';
	import { invalidateAll } from '$app/navigation';
	import ChosenTask from '$lib/components/floor/ChosenTask.svelte';
	import DayLanes from '$lib/components/floor/DayLanes.svelte';
	import DayList from '$lib/components/floor/DayList.svelte';
	import HandOverTag from '$lib/components/floor/HandOverTag.svelte';
	import PromiseTable from '$lib/components/floor/PromiseTable.svelte';
	import { sendChanges } from '$lib/components/ui/send-change';
	import StuckList from '$lib/components/floor/StuckList.svelte';
	import TicketTag from '$lib/components/floor/TicketTag.svelte';
	import AsOf from '$lib/components/ui/AsOf.svelte';
	import { Newest } from '$lib/components/ui/newest.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	import { durationWords } from '$lib/core/bench/promise';
	import type { DayTask } from '$lib/core/bench/day/plan-day';
	import { daysAfter, daysUntilOpen, momentOn, openOn, wallClock } from '$lib/core/units/calendar';
	import type { Tag } from '$lib/server/floor/queries';

	let { data } = $props();
	const newest = new Newest(() => data);
	const floor = $derived(newest.view);
	const format = useFormat();
	const timeZone = $derived(data.shop.timeZone);
	const tags = $derived(floor.tags);
	const tasks = $derived(floor.tasks);
	const today = $derived(format.dayKey(floor.now));
	const dueToday = $derived(
		tags.filter(({ promisedAt }) => promisedAt !== null && format.dayKey(promisedAt) <= today)
	);
	const late = $derived(tags.filter(({ urgency }) => urgency === 'late'));
	const others = ['customer', 'part', 'pick-up'];
	const waiting = $derived(tags.filter(({ waits }) => waits.some((wait) => others.includes(wait.for))));
	const rack = $derived(tags.filter((tag) => !tag.assignedTo && !waiting.includes(tag)));
	const handsToday = $derived(
		tasks.reduce((sum, { start, end }) => sum + (format.dayKey(start) === today ? end - start : 0), 0)
	);
	const DAYS = 6;
	const days = $derived(Array.from({ length: DAYS }, (_, i) => daysAfter(wallClock(floor.now, timeZone), i)));
	/** after closing time, and on a closed day, the next open one is what matters */
	const openIn = $derived(daysUntilOpen(floor.now, data.shop.opening));
	let dayChosen = $state<number | null>(null);
	const dayAt = $derived(dayChosen ?? Math.min(openIn ?? 0, DAYS - 1));
	const isClosed = (date: (typeof days)[number]) => openOn(date, data.shop.opening).length === 0;
	const day = $derived(days[dayAt] ?? wallClock(floor.now, timeZone));
	let chosenKey = $state<string | null>(null);
	const keyOf = (task: DayTask) => `${task.number} ${task.code}`;
	const chosenTask = $derived(tasks.find((task) => keyOf(task) === chosenKey));
	const chosenTag = $derived(tags.find(({ number }) => number === chosenTask?.number));
	const isFirst = (task: DayTask) => tasks.find(({ number }) => number === task.number) === task;
	const nameOf = (code: string | null) =>
		floor.technicians.find((person) => person.code === code)?.name ?? (code === null ? 'nobody' : code);
	/** the one who is signed in, first */
	const people = $derived(
		[...floor.technicians].sort(
			(a, b) => Number(b.code === data.user.technician) - Number(a.code === data.user.technician)
		)
	);
	let handed = $state.raw<Tag | null>(null);
	let handing = $state(false);
	let problem = $state<string | null>(null);

	function select(tag: Tag) {
		handed = tag;
		handing = true;
	}
	async function toRack(event: DragEvent) {
		event.preventDefault();
		const number = event.dataTransfer?.getData('text/plain');
		const tag = tags.find((candidate) => candidate.number === number);
		if (!tag || tag.assignedTo === null) return;
		problem = await sendChanges(tag, [{ verb: 'hand-over', to: null }]);
		await invalidateAll();
	}
	async function pin(number: string, to: { technician: string; startAt: number } | null) {
		const tag = tags.find((candidate) => candidate.number === number);
		if (!tag) return;
		problem = await sendChanges(tag, [{ verb: 'pin', to }]);
		await invalidateAll();
	}
	onMount(() => {
		const timer = setInterval(() => void invalidateAll(), 30_000);
		return () => clearInterval(timer);
	});
	// a better plan is looked for: it is shown when it is there
	$effect(() => {
		if (!floor.improving) return;
		const timer = setTimeout(() => void invalidateAll(), 2500);
		return () => clearTimeout(timer);
	});
	/** days that a key goes on */
	const KEYS = { ',': -1, '<': -1, '.': 1, '>': 1 } as const;
	function keys(event: KeyboardEvent) {
		const step = keyToAction(KEYS, event);
		if (step !== null) dayChosen = Math.max(0, Math.min(DAYS - 1, dayAt + step));
	}
	const dayWords = (i: number, moment: number) => (i === 0 ? 'Today' : format.day(moment));
</script>

<svelte:window onkeydown={keys} />
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
			class="text-ink-soft">will miss their promise</span
		>
	</p>
	<p>
		<span class="figure text-2xl">{durationWords(handsToday)}</span><br /><span class="text-ink-soft"
			>bench time planned today</span
		>
	</p>
	<p>
		<span class="figure text-2xl">{tags.filter(({ comeback }) => comeback).length}</span><br /><span
			class="text-ink-soft">comebacks in the shop</span
		>
	</p>
	<AsOf asOf={newest.asOf} pending={newest.pending} />
	<a href="/counter" class="btn btn-copper ml-auto">Take in <span class="key">N</span></a>
</div>
{#if problem}<p role="alert" class="slip mb-3 font-semibold text-short">✕ {problem}</p>{/if}
<section class="slip mb-3" aria-labelledby="day">
	<div class="mb-1 flex flex-wrap items-center gap-1.5">
		<h2 id="day" class="mr-2 text-ink">Day plan</h2>
		{#each days as date, i (i)}
			<button class="btn btn-small" aria-pressed={i === dayAt} onclick={() => (dayChosen = i)}
				>{dayWords(i, momentOn(date, 720, timeZone))}{isClosed(date) ? ', closed' : ''}</button
			>
		{/each}
		<span class="ml-auto text-sm text-ink-soft" role="status"
			>{floor.improving ? 'looking for a better plan …' : ''}</span
		>
		<a class="link text-sm" href="/floor/days">Absences and calendars</a>
	</div>
	{#if openIn !== 0}
		<p class="mb-1 font-semibold" role="status">
			{isClosed(days[0] ?? day) ? 'Closed today.' : 'Closed for today.'}
			{openIn === null
				? 'No opening hours within a year: the manager sets them in Settings.'
				: `Open again ${format.day(momentOn(daysAfter(wallClock(floor.now, timeZone), openIn), 720, timeZone))}.`}
		</p>
	{/if}
	{#if people.length === 0}
		<p>No technician yet. Add one under Settings, Catalog to plan the day.</p>
	{:else}
		<DayList {people} {tasks} {tags} {day} {timeZone} />
		<div class="hidden sm:block">
			<DayLanes
				{people}
				{tasks}
				{tags}
				{day}
				{timeZone}
				now={floor.now}
				chosen={chosenKey}
				onchoose={(task) => (chosenKey = keyOf(task))}
				onpin={(task, technician, startAt) => pin(task.number, { technician, startAt })}
			/>
		</div>
		{#if chosenTask && chosenTag}
			<ChosenTask
				task={chosenTask}
				tag={chosenTag}
				first={isFirst(chosenTask)}
				{nameOf}
				onpin={(to) => pin(chosenTask.number, to)}
				onhand={() => select(chosenTag)}
			/>
		{/if}
	{/if}
</section>
<div class="grid grid-cols-[minmax(0,1fr)] items-start gap-3 lg:grid-cols-[270px_minmax(0,1fr)]">
	<div class="grid grid-cols-[minmax(0,1fr)] gap-3 rounded bg-well p-3">
		<section
			aria-labelledby="rack"
			ondragover={(event) => event.preventDefault()}
			ondrop={toRack}
			role="group"
		>
			<div class="mb-1.5 flex justify-between">
				<h2 id="rack" class="text-ink">Waiting for a bench</h2>
				<span class="text-sm"><span class="figure">{rack.length}</span></span>
			</div>
			<div class="grid grid-cols-[minmax(0,1fr)] gap-2">
				{#each rack as tag (tag.number)}<TicketTag {tag} ondrag={() => {}} onselect={select} />{:else}<p
						class="text-sm"
					>
						Empty: every open ticket is on a bench or waiting.
					</p>{/each}
			</div>
		</section>
		<section aria-labelledby="waiting">
			<div class="mb-1.5 flex justify-between">
				<h2 id="waiting" class="text-ink">Waiting</h2>
				<span class="figure text-sm">{waiting.length}</span>
			</div>
			<div class="grid grid-cols-[minmax(0,1fr)] gap-2">
				{#each waiting as tag (tag.number)}<TicketTag {tag} ondrag={() => {}} onselect={select} />{:else}<p
						class="text-sm"
					>
						Nothing is waiting.
					</p>{/each}
			</div>
		</section>
		<StuckList {tags} now={floor.now} />
	</div>
	<PromiseTable {tags} kept={floor.kept} {nameOf} onhand={select} />
</div>
<HandOverTag bind:open={handing} tag={handed} technicians={floor.technicians} />
