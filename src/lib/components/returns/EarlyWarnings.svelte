<script lang="ts">
	import { enhance } from '$app/forms';
	import type { ReturnsView, StandingAlarm } from '$lib/server/returns/view';
	import { nounFor } from '$lib/core/units/noun';
	import Field from '../ui/Field.svelte';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import { useFormat } from '../ui/shop-context';

	/** Runs of comebacks that are too long for chance: what to hold back, and the way to put a warning away. */
	let {
		alarms,
		older,
		mayClear,
		address
	}: {
		alarms: StandingAlarm[];
		older: ReturnsView['olderAlarms'];
		mayClear: boolean;
		address: (change: { by?: string; row?: string }) => string;
	} = $props();
	const format = useFormat();
	const OF_WORDS = { operation: 'Work', lot: 'Lot', technician: 'Technician', method: 'Method' };
	const advice = ({ of, onShelf }: StandingAlarm) =>
		({
			lot:
				onShelf === null || onShelf === 0
					? 'None is left on the shelf. Tell the supplier.'
					: `Quarantine the remaining ${onShelf} ${nounFor(onShelf, 'piece')}.`,
			method: 'Use another method until the cause is known.',
			operation: 'Review the last ones together: joints, anchors, covers, parts.',
			technician: 'Work the next ones together: look for what differs, not for who is to blame.'
		})[of];
	let clearing = $state<StandingAlarm | null>(null);
	let open = $state(false);
	let problem = $state<string | null>(null);
</script>

{#if alarms.length > 0}
	<section class="mb-2.5 grid gap-2" aria-labelledby="warnings">
		<h2 id="warnings" class="sr-only">Early warnings</h2>
		{#each alarms as alarm (`${alarm.of} ${alarm.key}`)}
			<div
				class="slip flex flex-wrap items-center gap-x-5 gap-y-1 border-l-[7px] border-l-short py-2"
				role="alert"
			>
				<p class="min-w-60 flex-1">
					<strong class="text-short">▲ {OF_WORDS[alarm.of]}</strong>
					<a class="link font-semibold" href={address({ by: alarm.of, row: alarm.key })}>{alarm.label}</a>:
					<strong class="figure">{alarm.comebacks}</strong> came back,
					<strong class="figure">{alarm.expected.toFixed(1)}</strong> expected; more than chance since
					{format.date(alarm.at)} (<a class="link figure" href="/tickets/{alarm.ticket}">{alarm.ticket}</a>).
					{advice(alarm)}
				</p>
				{#if alarm.of === 'lot' && alarm.onShelf}<a class="btn" href="/shelf?part={alarm.sku}&lot={alarm.key}"
						>Find it on the shelf</a
					>{/if}
				{#if !mayClear}<span class="text-ink-soft">A manager decides.</span>{/if}
				{#if mayClear}
					<button
						class="btn"
						onclick={() => {
							clearing = alarm;
							problem = null;
							open = true;
						}}>Dismiss…</button
					>
				{/if}
			</div>
		{/each}
		{#if older.length > 0}
			<p class="text-ink-soft">
				Older warnings are still active, marked ▲ in the tables:
				{#each older as { of, count }, i (of)}{i > 0 ? ', ' : ''}<a class="link" href={address({ by: of })}
						>{OF_WORDS[of]} (<span class="figure">{count}</span>)</a
					>{/each}. Dismiss the newest ones to see these.
			</p>
		{/if}
	</section>
{/if}
<ModalSlip bind:open title="Dismiss this warning">
	{#if clearing}
		<form
			method="POST"
			action="?/clear"
			class="grid gap-3"
			use:enhance={() =>
				async ({ result, update }) => {
					if (result.type === 'failure') {
						problem =
							Object.values((result.data?.problems ?? {}) as Record<string, string>)[0] ?? 'was refused';
						return;
					}
					open = false;
					await update();
				}}
		>
			<p>
				{OF_WORDS[clearing.of]} <strong>{clearing.label}</strong>. The count starts again from here. A new
				warning follows if it goes on.
			</p>
			<input type="hidden" name="of" value={clearing.of} />
			<input type="hidden" name="row" value={clearing.key} />
			<input type="hidden" name="ticket" value={clearing.ticket} />
			<Field id="reason" name="reason" label="What was found" rows={3} maxlength={500} error={problem} />
			<button class="btn btn-copper justify-self-start">Dismiss</button>
		</form>
	{/if}
</ModalSlip>
