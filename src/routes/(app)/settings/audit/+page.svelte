<script lang="ts">
	import { codeWords } from '$lib/core/units/code';
	import { useFormat } from '$lib/components/ui/shop-context';
	let { data } = $props();
	const format = useFormat();
</script>

<svelte:head><title>Audit log · Tavrek</title></svelte:head>

<section class="slip overflow-x-auto">
	<h1 class="mb-2">Audit log</h1>
	<p class="mb-2 text-ink-soft">The latest 200 entries. Entries are never changed or removed.</p>
	<table class="ledger">
		<thead><tr><th>When</th><th>Who</th><th>What</th><th>On</th><th>Detail</th></tr></thead>
		<tbody>
			{#each data.lines as line, i (i)}
				<tr>
					<td class="whitespace-nowrap">{format.moment(line.at)}</td>
					<td>{line.actor}</td>
					<td>{codeWords(line.verb)}</td>
					<td class="figure text-sm"
						>{#if line.subject === 'ticket'}<a class="link" href="/tickets/{line.key}">{line.key}</a
							>{:else}{line.subject} {line.key}{/if}</td
					>
					<td class="text-sm break-words text-ink-soft">{line.words}</td>
				</tr>
			{:else}
				<tr><td colspan="5">Nothing yet.</td></tr>
			{/each}
		</tbody>
	</table>
</section>
