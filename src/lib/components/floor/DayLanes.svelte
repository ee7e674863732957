<script lang="ts">
	import { tick } from 'svelte';
	import type { DayTask } from '$lib/core/bench/day/plan-day';
	import type { LocalDay } from '$lib/core/units/calendar';
	import type { Tag } from '$lib/server/floor/queries';
	import { useFormat } from '../ui/shop-context';
	import { laneScale, quarterBeside, quarterOf, stripsOf, type Strip } from './lane-scale';

	interface Person {
		code: string;
		name: string;
		skills: string[];
		free: readonly (readonly [number, number])[];
	}
	/** One day by technician: hands-on time as strips of paper, what must pass after it as a hatched line below, the promise as an edge. */
	let {
		people,
		tasks,
		tags,
		day,
		timeZone,
		now,
		chosen,
		onchoose,
		onpin
	}: {
		people: readonly Person[];
		tasks: readonly DayTask[];
		tags: readonly Tag[];
		day: LocalDay;
		timeZone: string;
		now: number;
		chosen: string | null;
		onchoose: (task: DayTask) => void;
		/** the first task of a ticket is put at a moment on somebody's lane */
		onpin: (task: DayTask, technician: string, startAt: number) => void;
	} = $props();
	const format = useFormat();
	const scale = $derived(
		laneScale(
			day,
			timeZone,
			people.flatMap(({ free }) => free),
			tasks
		)
	);
	const byNumber = $derived(new Map(tags.map((tag) => [tag.number, tag])));
	const shown = $derived(tasks.filter(({ start, waitEnd }) => waitEnd > scale.from && start < scale.to));
	// the earliest of a ticket is written last
	const firstOf = $derived(new Map([...tasks].reverse().map((task) => [task.number, task])));
	const keyOf = (task: DayTask) => `${task.number} ${task.code}`;
	const lastOf = $derived(new Map(tasks.map((task) => [task.number, keyOf(task)])));
	const percent = (share: number) => `${(share * 100).toFixed(3)}%`;
	const width = (from: number, to: number) => percent(Math.max(0.004, scale.at(to) - scale.at(from)));
	const isLate = (number: string) => byNumber.get(number)?.urgency === 'late';

	/** where within the strip it was taken */
	let grip = 0;
	function take(event: DragEvent, task: DayTask) {
		const strip = event.currentTarget as HTMLElement;
		grip = (event.clientX - strip.getBoundingClientRect().left) / (strip.parentElement?.clientWidth ?? 1);
		event.dataTransfer?.setData('text/plain', task.number);
	}
	function drop(event: DragEvent, person: Person) {
		event.preventDefault();
		const number = event.dataTransfer?.getData('text/plain');
		const task = firstOf.get(number ?? '');
		const lane = event.currentTarget as HTMLElement;
		const share = (event.clientX - lane.getBoundingClientRect().left) / lane.clientWidth - grip;
		grip = 0;
		if (!task) return;
		onpin(task, person.code, Math.max(now, quarterOf(scale.from + share * (scale.to - scale.from))));
	}
	/** the strip that has the focus: it keeps it when a newer plan puts it elsewhere */
	let followed: string | null = null;
	let lanes = $state<HTMLElement>();
	$effect(() => {
		if (tasks.length === 0 || followed === null) return;
		const key = followed;
		void tick().then(() => {
			const isElsewhere = document.activeElement !== null && document.activeElement !== document.body;
			if (!isElsewhere) lanes?.querySelector<HTMLElement>(`[data-strip="${CSS.escape(key)}"]`)?.focus();
		});
	});
	/** Arrows move the next work of a ticket by a quarter of an hour, or to the lane beside; the plan follows. */
	function keys(event: KeyboardEvent, task: DayTask) {
		if (firstOf.get(task.number) !== task || task.fixed === 'begun' || !event.shiftKey) return;
		const at = people.findIndex(({ code }) => code === task.technician);
		const lane = { ArrowUp: -1, ArrowDown: 1 }[event.key];
		const beside = { ArrowLeft: -1, ArrowRight: 1 }[event.key] as -1 | 1 | undefined;
		const to = lane === undefined ? people[at] : people[at + lane];
		if ((lane === undefined && beside === undefined) || !to) return;
		event.preventDefault();
		onpin(task, to.code, Math.max(now, beside ? quarterBeside(task.start, beside) : task.start));
	}
	const words = ({ task, tasks: all, start, end, waitEnd }: Strip) =>
		[
			`${task.number} ${all.map(({ label }) => label).join(', ')}`,
			`${format.time(start)} to ${format.time(end)}`,
			waitEnd > end ? `then waits until ${format.time(waitEnd)}` : '',
			task.fixed === 'begun' ? 'under way' : task.fixed === 'pinned' ? 'pinned by hand' : '',
			isLate(task.number) ? 'late' : ''
		]
			.filter(Boolean)
			.join(', ');
</script>

<!-- a press beside the strips lets go of the one that was followed; on one, its focus follows after -->
<svelte:window onpointerdown={() => (followed = null)} />
<div class="overflow-x-auto" bind:this={lanes}>
	<div class="min-w-[44rem]">
		<div class="relative mr-6 ml-32 h-5 text-sm text-ink-soft" aria-hidden="true">
			{#each scale.hours as hour (hour)}
				<span class="figure absolute -translate-x-1/2" style:left={percent(scale.at(hour))}
					>{format.time(hour)}</span
				>
			{/each}
		</div>
		{#each people as person (person.code)}
			<div class="flex items-stretch border-t border-edge">
				<div class="w-32 shrink-0 py-1.5 pr-2 leading-tight">
					<strong>{person.name}</strong>
					<span class="block text-[0.8rem] text-ink-soft"
						>{person.skills.join(', ').replaceAll('-', ' and ')}</span
					>
				</div>
				<div
					class="lane relative mr-6 h-[62px] flex-1"
					role="list"
					aria-label="{person.name}’s lane"
					ondragover={(event) => event.preventDefault()}
					ondrop={(event) => drop(event, person)}
				>
					{#each person.free as [from, to] (from)}
						{#if to > scale.from && from < scale.to}
							<span
								class="open absolute inset-y-0"
								style:left={percent(scale.at(from))}
								style:width={width(from, to)}
								aria-hidden="true"
							></span>
						{/if}
					{/each}
					{#each scale.hours as hour (hour)}
						<span
							class="absolute inset-y-0 border-l border-edge"
							style:left={percent(scale.at(hour))}
							aria-hidden="true"
						></span>
					{/each}
					{#if now > scale.from && now < scale.to}
						<span
							class="absolute inset-y-0 z-20 border-l-2 border-ink"
							style:left={percent(scale.at(now))}
							aria-hidden="true"
						></span>
					{/if}
					{#each stripsOf(shown.filter(({ technician }) => technician === person.code)) as strip (keyOf(strip.task))}
						{@const task = strip.task}
						{@const tag = byNumber.get(task.number)}
						<div role="listitem" class="contents">
							<button
								class="strip absolute top-1.5 z-10 h-8 overflow-hidden border bg-paper px-0.5 text-left whitespace-nowrap {task.fixed ===
								'begun'
									? 'border-l-4 border-copper'
									: task.fixed === 'pinned'
										? 'border-2 border-ink'
										: 'border-edge-strong'} {isLate(task.number) ? 'late' : ''} {chosen === keyOf(task)
									? 'outline-3 outline-copper'
									: ''}"
								style:left={percent(scale.at(strip.start))}
								style:width={width(strip.start, strip.end)}
								data-strip={keyOf(task)}
								onfocus={() => (followed = keyOf(task))}
								onblur={(event) => {
									if (event.relatedTarget) followed = null;
								}}
								draggable={firstOf.get(task.number) === task && task.fixed !== 'begun' ? 'true' : undefined}
								aria-pressed={chosen === keyOf(task)}
								aria-label={words(strip)}
								title={words(strip)}
								ondragstart={(event) => take(event, task)}
								onclick={() => onchoose(task)}
								onkeydown={(event) => keys(event, task)}
							>
								<span class="num figure text-[0.7rem]"
									>{isLate(task.number) ? '▼' : ''}{task.number.replace(/^K-0*/, '')}</span
								>
							</button>
							{#if strip.waitEnd > strip.end}
								<span
									class="wait absolute top-[42px] h-2"
									style:left={percent(scale.at(strip.end))}
									style:width={width(strip.end, strip.waitEnd)}
									aria-hidden="true"
								></span>
							{/if}
							{#if strip.tasks.some((each) => lastOf.get(task.number) === keyOf(each)) && tag?.promisedAt != null && tag.promisedAt > scale.from && tag.promisedAt < scale.to}
								<span
									class="absolute top-[52px] h-2 border-r-[3px] border-b {tag.urgency === 'late'
										? 'border-short'
										: 'border-agrees'}"
									style:left={percent(Math.min(scale.at(strip.end), scale.at(tag.promisedAt)))}
									style:width={percent(Math.abs(scale.at(tag.promisedAt) - scale.at(strip.end)))}
									title="{task.number} is promised for {format.time(tag.promisedAt)}"
									aria-hidden="true"
								></span>
							{/if}
						</div>
					{/each}
				</div>
			</div>
		{/each}
	</div>
</div>

<style>
	.lane {
		background: var(--well);
	}
	.open {
		background: var(--paper-2);
	}
	.strip {
		container-type: inline-size;
	}
	/* a number that does not fit is left to the words behind it */
	@container (max-width: 25px) {
		.num {
			display: none;
		}
	}
	.late {
		border-color: var(--short);
		color: var(--short);
	}
	.wait {
		background: repeating-linear-gradient(45deg, var(--edge-strong) 0 2px, transparent 2px 5px);
	}
</style>
