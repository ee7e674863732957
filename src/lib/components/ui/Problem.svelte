<script lang="ts">
	/** An error where it belongs: what was seen, what to do. */
	let { message, id }: { message: string | null | undefined; id?: string } = $props();
</script>

<p {id} role="alert" class={message ? 'mt-1 text-sm font-semibold text-short' : 'sr-only'}>
	{#if message}✕ {message}{/if}
</p>
