<script lang="ts">
	import type { PageData } from '../../../routes/(app)/tickets/[number]/run/$types';

	/** Choose a procedure: those of advised operations first. */
	let {
		procedures,
		advised,
		number
	}: { procedures: PageData['procedures']; advised: readonly string[]; number: string } = $props();
	const rank = (operation: string) => {
		const at = advised.indexOf(operation);
		return at < 0 ? advised.length : at;
	};
	const sorted = $derived([...procedures].sort((a, b) => rank(a.operation) - rank(b.operation)));
</script>

<div class="slip">
	<h2 class="mb-2">Choose a procedure</h2>
	{#if procedures.length === 0}
		<p>
			No procedure yet. A manager can write one in the <a class="link" href="/workbook/procedures">Workbook</a
			>.
		</p>
	{/if}
	<ul>
		{#each sorted as procedure (procedure.code)}
			<li class="border-b border-edge last:border-b-0">
				<a
					class="block px-2 py-2 leading-snug hover:bg-wash"
					href="/tickets/{number}/run?procedure={encodeURIComponent(procedure.code)}"
				>
					<strong>{procedure.label}</strong>
					{#if advised.includes(procedure.operation)}<span class="text-copper"> · advised</span>{/if}
					<span class="float-right text-sm text-ink-soft"
						><span class="figure">{procedure.steps}</span> steps,
						<span class="figure">{Math.round(procedure.minutes)}</span> min bench time</span
					>
					<span class="block text-sm text-ink-soft"
						>{procedure.operationLabel}{procedure.school ? ` · ${procedure.school}` : ''}{procedure.about
							? ` · ${procedure.about}`
							: ''}</span
					>
				</a>
			</li>
		{/each}
	</ul>
</div>
