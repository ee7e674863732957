<script lang="ts">
	import type { Snippet } from 'svelte';
	/** A calculator: what goes in, what comes out, and what it rests on. */
	let { fields, result, rests }: { fields: Snippet; result: Snippet; rests: readonly string[] } = $props();
</script>

<div class="grid items-start gap-x-8 gap-y-3 lg:grid-cols-[280px_minmax(0,1fr)]">
	<div class="grid gap-2.5">{@render fields()}</div>
	<div>
		{@render result()}
		<h3 class="mt-4 text-sm font-semibold text-ink-soft">Basis and sources</h3>
		<ul class="list-disc pl-5 text-sm text-ink-soft">
			{#each rests as words (words)}<li>{words}</li>{/each}
		</ul>
	</div>
</div>
