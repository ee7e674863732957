<script lang="ts">
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	let { onstart }: { onstart: (step: { kind: 'test' | 'operation'; code: string }) => void } = $props();
	const desk = useDesk();
	const format = useFormat();
	const next = $derived(desk.view.next);
	const first = $derived(next[0]);
	const open = $derived(desk.view.ticket.closedAt === null);

	const percent = (chance: number) => `${Math.round(chance * 100)} %`;

	function keys(event: KeyboardEvent) {
		const target = event.target as HTMLElement;
		if (/^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName) || event.ctrlKey || event.metaKey || event.altKey)
			return;
		if (event.key === 's' && first && open && !document.querySelector('[role=dialog]')) onstart(first);
	}
</script>

<svelte:window onkeydown={keys} />

{#if open}
	<section class="slip border-l-[5px] border-l-copper py-2" aria-labelledby="next-title">
		<div class="flex items-baseline justify-between gap-2">
			<h2 id="next-title">Next step</h2>
			<span class="text-sm text-ink-soft"
				>{first?.costMinor === undefined ? 'hands to the end' : 'to the end, on average'}</span
			>
		</div>
		{#if first}
			<div class="flex items-baseline justify-between gap-2 text-[1.07rem] font-semibold">
				<span>{first.label}</span>
				<span class="figure"
					>{first.costMinor === undefined
						? `${Math.round(first.minutes)} min`
						: format.amount(first.costMinor)}</span
				>
			</div>
			<div class="flex items-start justify-between gap-3">
				<p class="text-[0.93rem] leading-snug text-ink-soft">{first.why}</p>
				<button class="btn btn-copper btn-small mt-0.5" onclick={() => onstart(first)}
					>Start it <span class="key">S</span></button
				>
			</div>
			{#if first.caution}<p class="mt-0.5 text-[0.87rem] leading-snug font-semibold text-short">
					▲ {first.caution}
				</p>{/if}
			{#if desk.view.giveUp}<p class="mt-0.5 text-[0.87rem] leading-snug font-semibold text-low">
					▽ No step is expected to pay: handing it back costs less on average.
				</p>{/if}
			<details class="mt-1 text-[0.87rem]">
				<summary>What would it change</summary>
				<ul class="mt-0.5">
					{#each first.outcomes as { answer, chance, leads } (answer)}
						<li class="border-t border-edge py-0.5">
							<span class="flex justify-between gap-2 font-semibold"
								><span>{answer.replaceAll('-', ' ')}</span><span class="figure font-normal text-ink-soft"
									>{percent(chance)}</span
								></span
							>
							{#each leads as { label, before, after } (label)}
								<span class="flex justify-between gap-2 leading-snug"
									><span>{label}</span><span class="figure"
										>{percent(before)} →
										<b class={after > before ? 'text-agrees' : 'text-short'}>{percent(after)}</b></span
									></span
								>
							{:else}<span class="text-ink-soft">the complaint is gone</span>{/each}
						</li>
					{/each}
				</ul>
			</details>
			<ul class="my-1 text-[0.93rem]">
				{#each next.slice(1, 3) as step (step.kind + step.code)}
					<li class="flex items-baseline justify-between gap-2 leading-snug">
						<button class="text-left hover:underline" onclick={() => onstart(step)}
							>{step.label}{#if step.tie}<span class="text-sm text-ink-soft">{' · near tie'}</span
								>{/if}</button
						>
						<span class="figure text-ink-soft"
							>{step.costMinor === undefined
								? `${Math.round(step.minutes)} min`
								: format.amount(step.costMinor)}</span
						>
					</li>
				{/each}
			</ul>
		{:else}
			<p class="text-ink-soft">
				Nothing is left to try that has not failed. Look again, or close as not fixed.
			</p>
		{/if}
	</section>
{/if}
