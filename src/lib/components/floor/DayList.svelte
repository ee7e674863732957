<script lang="ts">
	import type { DayTask } from '$lib/core/bench/day/plan-day';
	import type { LocalDay } from '$lib/core/units/calendar';
	import type { Tag } from '$lib/server/floor/queries';
	import { useFormat } from '../ui/shop-context';
	import { laneScale, stripsOf } from './lane-scale';

	/** The day in order, person by person: the lanes for a narrow screen. */
	let {
		people,
		tasks,
		tags,
		day,
		timeZone
	}: {
		people: readonly { code: string; name: string }[];
		tasks: readonly DayTask[];
		tags: readonly Tag[];
		day: LocalDay;
		timeZone: string;
	} = $props();
	const format = useFormat();
	const scale = $derived(laneScale(day, timeZone, [], tasks));
	const shown = $derived(tasks.filter(({ start, end }) => end > scale.from && start < scale.to));
	const tagOf = $derived(new Map(tags.map((tag) => [tag.number, tag])));
</script>

<div class="sm:hidden">
	{#each people as person, i (person.code)}
		{@const strips = stripsOf(shown.filter(({ technician }) => technician === person.code))}
		<details open={i === 0} class="border-t border-edge">
			<summary
				><strong>{person.name}</strong> <span class="text-ink-soft">{strips.length} in order</span></summary
			>
			<ol>
				{#each strips as { task, tasks: all, start, end } (`${task.number} ${task.code}`)}
					<li class="border-b border-edge">
						<a class="thumb block py-1 leading-snug" href="/tickets/{task.number}">
							<span class="figure">{format.time(start)}–{format.time(end)}</span>
							<strong class="figure">{task.number}</strong>
							{#if tagOf.get(task.number)?.urgency === 'late'}<span class="font-semibold text-short"
									>▼ late</span
								>{/if}
							<span class="block text-sm text-ink-soft"
								>{tagOf.get(task.number)?.model ?? ''}: {all.map(({ label }) => label).join(', ')}</span
							>
						</a>
					</li>
				{:else}
					<li class="text-ink-soft">Nothing is planned.</li>
				{/each}
			</ol>
		</details>
	{/each}
</div>
