<script lang="ts">
	import { useFormat } from './shop-context';
	let { asOf, pending }: { asOf: number; pending: boolean } = $props();
	const format = useFormat();
	/** What is younger needs no time beside it. A choice. */
	const OLD_MS = 60_000;
	const old = $derived(Date.now() - asOf > OLD_MS);
</script>

{#if pending || old}
	<p class="text-sm text-ink-soft" role="status">
		As of {format.moment(asOf)}{pending ? ', updating' : ''}
	</p>
{/if}
