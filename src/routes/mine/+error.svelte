<script lang="ts">
	import { page } from '$app/state';
</script>

<svelte:head><title>Page not found</title></svelte:head>
<main class="mx-auto mt-12 max-w-lg px-4">
	<div class="slip p-6"><h1>{page.error?.message ?? 'Something went wrong. Try again in a moment.'}</h1></div>
</main>
