<script lang="ts">
	import Field from '../ui/Field.svelte';
	import { enhance } from '$app/forms';
	import { formatReading } from '$lib/core/readings/typed-reading';
	import type { ReferenceRecord } from '$lib/core/readings/reference';
	import Problem from '../ui/Problem.svelte';
	import { useFormat } from '../ui/shop-context';

	let {
		readings,
		current,
		bench,
		form
	}: {
		readings: { id: number; reference: ReferenceRecord }[];
		current: string | null;
		/** may withdraw */
		bench: boolean;
		form: { withdrawProblem?: string; withdrawn?: number; restored?: number } | null;
	} = $props();
	const format = useFormat();
	const SHOWN = 40;
	const newest = $derived([...readings].sort((a, b) => b.id - a.id));
	let open = $state<number | null>(null);
</script>

<section class="slip overflow-x-auto" aria-labelledby="single">
	<h2 id="single" class="mb-1 text-ink">
		Single readings{current ? `, ${current}` : ''}
		<span class="figure font-normal text-ink-soft">{readings.length}</span>
	</h2>
	{#if current === null && readings.length > 0}
		<p class="text-sm text-ink-soft">Choose a contact to see its boards one by one.</p>
	{:else if readings.length === 0}
		<p class="text-sm text-ink-soft">None yet.</p>
	{:else}
		<table class="ledger">
			<thead
				><tr
					><th class="num">Reads</th><th>Grade</th><th>Taken</th><th>Meter, board, ticket</th><th
						><span class="sr-only">Do</span></th
					></tr
				></thead
			>
			<tbody>
				{#each newest.slice(0, SHOWN) as { id, reference } (id)}
					<tr class={reference.withdrawn ? 'text-ink-soft' : ''}>
						<td class="num {reference.withdrawn ? 'line-through' : ''}">{formatReading(reference)}</td>
						<td>{reference.withdrawn ? 'withdrawn' : reference.grade}</td>
						<td>{reference.taken_at ? format.date(Date.parse(reference.taken_at)) : ''}</td>
						<td class="text-sm">
							{[reference.meter, reference.board].filter(Boolean).join(', ')}
							{#if reference.ticket}<a class="link figure" href="/tickets/{reference.ticket}"
									>{reference.ticket}</a
								>{/if}
						</td>
						<td class="text-right text-sm">
							{#if reference.withdrawn}
								<a class="link" href="/known-good?model={reference.model}&withdrawn={id}"
									>verdicts based on it</a
								>
								{#if bench}
									<form method="POST" action="?/restore&model={reference.model}" use:enhance>
										<input type="hidden" name="id" value={id} />
										<button class="link"
											>put back<span class="sr-only">
												the reading {formatReading(reference)} of {reference.pin}</span
											></button
										>
									</form>
								{/if}
							{:else if bench}
								<button
									class="link"
									aria-expanded={open === id}
									onclick={() => (open = open === id ? null : id)}
									>withdraw<span class="sr-only">
										the reading {formatReading(reference)} of {reference.pin}</span
									></button
								>
							{/if}
						</td>
					</tr>
					{#if open === id}
						<tr>
							<td colspan="5">
								<form
									method="POST"
									action="?/withdraw&model={reference.model}"
									class="flex flex-wrap items-end gap-2"
									use:enhance={() =>
										({ update, result }) => {
											if (result.type === 'success') open = null;
											return update({ reset: result.type === 'success' });
										}}
								>
									<input type="hidden" name="id" value={id} />
									<Field
										id="because"
										label="What is wrong with it"
										name="because"
										autocomplete="off"
										class="min-w-52 flex-1"
									/>
									<button class="btn btn-copper">Withdraw</button>
								</form>
							</td>
						</tr>
					{/if}
				{/each}
			</tbody>
		</table>
		{#if newest.length > SHOWN}<p class="text-sm text-ink-soft">
				The newest {SHOWN} of {newest.length}.
			</p>{/if}
	{/if}
	<Problem message={form?.withdrawProblem} />
	{#if form?.restored}<p role="status" class="mt-1 text-agrees">● Restored. It counts again.</p>{/if}
	{#if form?.withdrawn}
		<p role="status" class="mt-1 text-agrees">
			● Withdrawn. <a
				class="link"
				href="/known-good?model={readings[0]?.reference.model}&withdrawn={form.withdrawn}"
				>See every verdict based on it</a
			>
		</p>
	{/if}
</section>
