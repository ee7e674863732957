<script lang="ts">
	import type { Snippet } from 'svelte';
	import Mark from './Mark.svelte';
	let { title, lead, children }: { title: string; lead: string; children: Snippet } = $props();
</script>

<svelte:head><title>{title} · Tavrek</title></svelte:head>
<main class="mx-auto flex min-h-screen max-w-md flex-col justify-center px-4 py-10">
	<div class="overflow-hidden rounded border border-edge bg-paper">
		<div class="flex items-center gap-3 bg-house px-6 py-4 text-lg font-bold text-house-ink">
			<Mark /> Tavrek
		</div>
		<div class="px-6 pt-5 pb-7">
			<h1>{title}</h1>
			<p class="mb-5 text-ink-soft">{lead}</p>
			{@render children()}
		</div>
	</div>
</main>
