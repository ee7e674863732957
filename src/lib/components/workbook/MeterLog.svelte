<script lang="ts">
	import { onDestroy } from 'svelte';
	import { traceToCsv } from '$lib/core/charging/log-rows';
	import { PHASE_WORDS } from '$lib/core/charging/trace-phases';
	import type { TraceSummary } from '$lib/core/tickets/ticket-record';
	import DialectForm from './DialectForm.svelte';
	import { LogReading } from './log-reading.svelte';
	import TraceChart from './TraceChart.svelte';
	import { PHASE_LOOK } from './phase-look';
	import { secondsWords } from './seconds-words';

	/** Reads a meter's log: how it was understood, its phases, its sums, its trace. */
	let {
		healthyAmps,
		onkeep = null
	}: {
		healthyAmps: number | null;
		onkeep?: ((trace: Omit<TraceSummary, 'stage' | 'at' | 'by'>) => Promise<boolean>) | null;
	} = $props();

	const reading = new LogReading();
	onDestroy(() => reading.cancel());
	const done = $derived(reading.done);
	let kept = $state<string | null>(null);
	const SHOWN_ROWS = 12;

	function pick(event: Event & { currentTarget: HTMLInputElement }) {
		const file = event.currentTarget.files?.[0];
		event.currentTarget.value = '';
		if (file) reading.read(file, healthyAmps, null);
	}
	function save() {
		if (!done) return;
		const link = document.createElement('a');
		link.href = URL.createObjectURL(new Blob([traceToCsv(done.trace)], { type: 'text/csv' }));
		link.download = `${done.name.replace(/\.\w+$/, '')}-trace.csv`;
		link.click();
		URL.revokeObjectURL(link.href);
	}
	async function keep() {
		if (!done || !onkeep) return;
		const { result, name } = done;
		const sent = await onkeep({
			name: name.slice(0, 200),
			rows: result.rows.read,
			rejected: result.rows.rejectedCount,
			charge_mah: result.chargeMah,
			energy_mwh: result.energyMwh,
			phases: result.phases.slice(0, 500).map(({ kind, fromSeconds, toSeconds, volts, amps }) => ({
				kind,
				from_seconds: fromSeconds,
				to_seconds: toSeconds,
				volts,
				amps
			}))
		});
		if (sent) kept = name;
	}
</script>

<div class="flex flex-wrap items-center gap-3">
	<label class="btn"
		>Read a log<input
			type="file"
			accept=".csv,.txt,.tsv,.log,text/csv,text/plain"
			class="sr-only"
			onchange={pick}
		/></label
	>
	<span class="text-sm text-ink-soft"
		>CSV of an inline meter or logger, up to 500,000 rows. It is read in this browser and not sent anywhere.</span
	>
</div>
{#if reading.running}
	<div class="mt-2 flex items-center gap-3">
		<progress class="w-64" max="1" value={reading.share} aria-label="Reading the log"></progress>
		<span class="figure text-sm" role="status">{reading.rows.toLocaleString('en')} rows</span>
		<button class="btn btn-small" onclick={() => reading.cancel()}>Cancel</button>
	</div>
{:else if reading.cancelled}
	<p class="mt-2 text-ink-soft" role="status">Cancelled. Nothing was kept.</p>
{/if}
{#if reading.problem}<p role="alert" class="mt-2 font-semibold text-short">{reading.problem}.</p>{/if}
{#if reading.dialect && reading.file && !reading.running && (reading.problem || done)}
	<DialectForm
		dialect={reading.dialect}
		open={reading.problem !== ''}
		onread={(dialect) => reading.file && reading.read(reading.file, healthyAmps, dialect)}
	/>
{/if}
{#if done}
	{@const { result, trace } = done}
	<p class="mt-2" role="status">
		<span class="font-semibold">{done.name}</span>:
		<span class="figure">{result.rows.read.toLocaleString('en')}</span>
		rows read{#if result.rows.rejectedCount > 0},
			<span class="figure font-semibold text-short">{result.rows.rejectedCount.toLocaleString('en')}</span> not{/if};
		<span class="figure">{result.chargeMah.toFixed(1)} mAh</span>,
		<span class="figure">{(result.energyMwh / 1000).toFixed(3)} Wh</span>{#if result.path}; supply and cable
			<span class="figure">{(result.path.ohms * 1000).toFixed(0)} mΩ</span>
			<span class="text-sm text-ink-soft"
				>({(result.path.low * 1000).toFixed(0)} to {(result.path.high * 1000).toFixed(0)}, from {result.path
					.from} phases)</span
			>{/if}
	</p>
	{#each result.assumed as words (words)}<p class="text-sm text-low">▽ {words}.</p>{/each}
	{#if result.gaps.length > 0}
		<p class="text-sm text-low">
			▽ {result.gaps.length}
			{result.gaps.length === 1 ? 'pause' : 'pauses'} without a row, not counted in the sums: the first at
			<span class="figure">{secondsWords(result.gaps[0]?.fromSeconds ?? 0)}</span>.
		</p>
	{/if}
	<TraceChart {trace} phases={result.phases} />
	<div class="mt-2 max-h-80 overflow-auto">
		<table class="ledger">
			<thead
				><tr
					><th>Phase</th><th class="num">From</th><th class="num">For</th><th class="num">Volts</th><th
						class="num">Amperes</th
					></tr
				></thead
			>
			<tbody>
				{#each result.phases as phase, i (i)}
					<tr>
						<td
							><span class="mr-1" style:color="var({PHASE_LOOK[phase.kind].colour})" aria-hidden="true"
								>{PHASE_LOOK[phase.kind].shape}</span
							>{PHASE_WORDS[phase.kind]}</td
						>
						<td class="num">{secondsWords(phase.fromSeconds)}</td>
						<td class="num">{secondsWords(phase.toSeconds - phase.fromSeconds)}</td>
						<td class="num">{phase.volts.toFixed(3)}</td>
						<td class="num">{phase.amps.toFixed(3)}</td>
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
	{#if result.rows.rejected.length > 0}
		<details class="mt-2">
			<summary class="font-semibold">Rows that could not be read</summary>
			<ul class="text-sm">
				{#each result.rows.rejected.slice(0, SHOWN_ROWS) as { line, message } (line)}
					<li>line <span class="figure">{line}</span> {message}</li>
				{/each}
				{#if result.rows.rejectedCount > SHOWN_ROWS}<li class="text-ink-soft">
						and {(result.rows.rejectedCount - SHOWN_ROWS).toLocaleString('en')} more
					</li>{/if}
			</ul>
		</details>
	{/if}
	<div class="mt-2 flex items-center gap-2">
		{#if onkeep}
			<button class="btn btn-copper" disabled={kept === done.name} onclick={keep}>Keep with the ticket</button
			>
		{/if}
		<button class="btn" onclick={save}>Save the trace as CSV</button>
		{#if kept === done.name}<span role="status" class="text-agrees"
				>● Phases and sums kept. The file itself is not uploaded.</span
			>{/if}
	</div>
{/if}
