<script lang="ts">
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import type { OtherTimer } from '$lib/server/tickets/change-ticket';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';

	/** One pair of hands: a timer of the same technician runs elsewhere, and somebody says which of the two stops. */
	let { bench }: { bench: BenchCatalog } = $props();
	const desk = useDesk();
	const format = useFormat();
	const asked = $derived(
		desk.held.flatMap(({ once, change, held }) =>
			(change.verb === 'start-timer' || change.verb === 'step') && held?.code === 'refused' && held.more
				? [{ once, change, other: held.more as OtherTimer }]
				: []
		)[0]
	);
	const nameOf = (code: string) => bench.technicians.find((person) => person.code === code)?.name ?? code;

	async function stopThere(how: 'gone' | 'stays' | 'part' | 'discard') {
		if (!asked) return;
		const { once, change, other } = asked;
		const { number, version, operation } = other;
		const { technician } = change;
		const parts = bench.operations.find(({ code }) => code === operation)?.parts ?? [];
		const stop =
			how === 'discard'
				? ({ verb: 'cancel-timer', operation, technician } as const)
				: ({
						verb: 'stop-timer',
						operation,
						technician,
						resolved: how === 'gone',
						...(how === 'part' ? { part: true } : {}),
						parts
					} as const);
		void desk.sendTo(number, version, stop);
		desk.again(once);
	}
</script>

{#if asked}
	{@const { other, change, once } = asked}
	<section
		class="mt-2 border-l-[5px] border-low bg-paper-2 px-3 py-2"
		aria-label="Which timer stops"
		role="alert"
	>
		<p>
			<strong>{nameOf(change.technician)} has a timer running on {other.number}</strong>: {other.label}, since
			{format.weekdayTime(other.startedAt)}. Which of the two stops?
		</p>
		<div class="mt-1.5 flex flex-wrap gap-2">
			<button class="btn btn-small" onclick={() => stopThere('gone')}>Stop {other.number}: fixed it</button>
			<button class="btn btn-small" onclick={() => stopThere('stays')}
				>Stop {other.number}: did not fix it</button
			>
			<button class="btn btn-small" onclick={() => stopThere('part')}>Stop {other.number}: step only</button>
			<button class="btn btn-small" onclick={() => stopThere('discard')}>Discard that timer</button>
			<button class="btn btn-small" onclick={() => desk.drop(once)}>Keep it running, start none here</button>
		</div>
	</section>
{/if}
