<script lang="ts">
	import type { KitChoice } from './kit-choice.svelte';

	/** What an operation takes and from where; recorded with it. */
	let { kit }: { kit: KitChoice } = $props();
	const several = $derived(kit.parts.some(({ choices }) => choices.length > 1));
</script>

<ul class="mt-1 text-sm" aria-label="Parts needed">
	{#each kit.parts as part (part.sku)}
		<li class="flex flex-wrap items-center gap-1.5 py-0.5">
			<span>Needs {part.quantity} × {part.label}</span>
			{#each part.choices as choice, i (i)}
				{@const short = choice.onHand !== null && choice.onHand < part.quantity}
				{#if part.choices.length > 1}
					<button
						type="button"
						class="btn btn-small"
						aria-pressed={kit.placeOf(part) === i}
						onclick={() => kit.choose(part, i)}
						>{choice.sku === part.sku
							? choice.lot === null
								? `oldest${choice.source ? `, ${choice.source}` : ''}`
								: `${choice.source ?? 'other'}, ${choice.lot}`
							: choice.label}{choice.onHand === null ? '' : `, ${choice.onHand} on hand`}</button
					>
				{:else if choice.onHand === null}<span class="text-ink-soft">charged, not counted</span>
				{:else}<span class={short ? 'font-semibold text-short' : 'text-ink-soft'}
						>{short ? '▼ ' : ''}{choice.onHand} on hand</span
					>{/if}
			{/each}
			{#if part.choices.length > 1 && (part.choices[kit.placeOf(part)]?.onHand ?? part.quantity) < part.quantity}<span
					class="font-semibold text-short">▼ not enough on hand</span
				>{/if}
		</li>
	{/each}
	{#if several}<li class="text-ink-soft"><span class="key">O</span> takes something else.</li>{/if}
</ul>
