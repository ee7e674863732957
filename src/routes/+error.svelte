<script lang="ts">
	import { page } from '$app/state';
</script>

<svelte:head><title>{page.status} · Tavrek</title></svelte:head>
<main class="mx-auto mt-24 max-w-lg px-4">
	<div class="slip p-6">
		<h1>{page.error?.message ?? 'Something went wrong.'}</h1>
		<p class="mt-2 text-ink-soft">
			Status <span class="figure">{page.status}</span>{#if page.error?.id}, noted in the server’s log as
				<span class="figure">{page.error.id}</span>{/if}.
		</p>
		<p class="mt-4"><a class="link" href="/floor">Back to the floor</a></p>
	</div>
</main>
