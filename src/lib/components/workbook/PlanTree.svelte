<script lang="ts">
	import { percent } from '$lib/core/units/percent';
	import { codeWords } from '$lib/core/units/code';
	import type { TreeView } from '$lib/server/workbook/start-plan';

	/** A plan's first steps as nested lines: each step, what it may show, and what to do then. */
	let { tree: whole }: { tree: TreeView } = $props();
</script>

{#snippet node(tree: TreeView)}
	{#if tree.step}
		<p class="leading-snug">
			<strong>{tree.step.label}</strong>
			<span class="text-ink-soft">
				{{
					test: 'test',
					measure: 'measure',
					operation: 'repair',
					prove: 'prove',
					'give-up': 'return unrepaired'
				}[tree.step.kind]},
				<span class="figure">{Math.round(tree.step.minutes)}</span> min</span
			>
		</p>
		{#if tree.step.caution}<p class="text-[0.87rem] leading-snug font-semibold text-short">
				▲ {tree.step.caution}
			</p>{/if}
		<ul class="mt-0.5 ml-2 border-l-2 border-edge-strong">
			{#each tree.branches as { answer, chance, tree: next } (answer)}
				<li class="relative pt-1 pl-4">
					<span class="absolute top-[0.95rem] left-0 h-0.5 w-3 bg-edge-strong" aria-hidden="true"></span>
					<p class="leading-snug">
						{codeWords(answer)}
						<span class="text-ink-soft">{percent(chance)}</span>{#if next.leads.length > 0}<span
								class="text-[0.87rem] text-ink-soft"
								>: {next.leads.map(({ label, chance: lead }) => `${label} ${percent(lead)}`).join(', ')}</span
							>{/if}
					</p>
					{@render node(next)}
				</li>
			{/each}
		</ul>
	{:else if tree.end === 'works'}
		<p class="text-agrees">◆ it works: run the final checks</p>
	{:else if tree.end === 'give-up'}
		<p class="text-low">▽ return it unrepaired, or look closer: no step is expected to pay</p>
	{:else}
		<p class="text-[0.93rem]">then {tree.order.join(', then ').toLowerCase()}</p>
	{/if}
{/snippet}

{@render node(whole)}
