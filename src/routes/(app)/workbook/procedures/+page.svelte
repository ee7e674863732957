<script lang="ts">
	let { data } = $props();
</script>

<svelte:head><title>Procedures · Workbook · Tavrek</title></svelte:head>

<div class="slip">
	<div class="mb-3 flex flex-wrap items-center gap-4">
		<h1><a class="hover:underline" href="/workbook">Workbook</a> · procedures</h1>
		{#if data.mayWrite}<a class="btn btn-copper ml-auto" href="/workbook/procedures/new">New procedure</a
			>{/if}
	</div>
	{#if data.procedures.length === 0}
		<p class="py-4 text-ink-soft">
			No procedure yet. A procedure lists the steps of a repair; at the bench you follow it by keys.
		</p>
	{:else}
		<div class="overflow-x-auto">
			<table class="ledger">
				<thead
					><tr
						><th>Procedure</th><th>Repair</th><th>Method</th><th class="num">Steps</th><th class="num"
							>Bench time, min</th
						><th class="num">Waits, min</th><th class="num">Version</th><th
							><span class="sr-only">Print</span></th
						></tr
					></thead
				>
				<tbody>
					{#each data.procedures as procedure (procedure.code)}
						<tr>
							<td
								><a class="link" href="/workbook/procedures/{procedure.code}">{procedure.label}</a><span
									class="block text-sm text-ink-soft">{procedure.about}</span
								></td
							>
							<td>{procedure.operation}</td>
							<td>{procedure.school}</td>
							<td class="num">{procedure.steps}</td>
							<td class="num">{procedure.hands}</td>
							<td class="num">{procedure.waits}</td>
							<td class="num">{procedure.version}</td>
							<td><a class="link text-sm" href="/procedures/{procedure.code}" target="_blank">print</a></td>
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	{/if}
</div>
