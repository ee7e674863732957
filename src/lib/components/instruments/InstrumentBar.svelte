<script lang="ts">
	import { onDestroy } from 'svelte';
	import Field from '../ui/Field.svelte';
	import { replaySamples } from '$lib/csv/replay';
	import type { InstrumentInfo, InstrumentKind } from '$lib/core/readings/instrument';
	import { InstrumentFeed, type Sample } from './feed.svelte';

	/** Chooses an instrument, starts and stops it, says when it is lost. What is done with samples is the panel's. */
	let {
		instruments,
		kinds,
		model,
		faults,
		query,
		onstart,
		onsample,
		live
	}: {
		instruments: readonly InstrumentInfo[];
		kinds: readonly InstrumentKind[];
		model: string;
		/** what can be put into a simulated device */
		faults: readonly { code: string; label: string }[];
		/** more of the stream's query, asked at the start */
		query: () => Record<string, string>;
		onstart: (instrument: InstrumentInfo) => void;
		onsample: (sample: Sample) => void;
		live: import('svelte').Snippet<[Sample | null]>;
	} = $props();

	const feed = new InstrumentFeed();
	onDestroy(() => feed.stop());
	const able = $derived(instruments.filter(({ kind }) => kinds.includes(kind)));
	let chosen = $state('');
	let fault = $state('');
	let seed = $state(1);
	let problem = $state('');
	let file = $state<HTMLInputElement>();
	const instrument = $derived(able.find(({ id }) => id === chosen) ?? able[0]);
	const running = $derived(feed.state === 'running');

	export function start() {
		if (!instrument) return;
		problem = '';
		onstart(instrument);
		const more: Record<string, string> = { model, faults: fault, seed: String(seed), ...query() };
		const search = new URLSearchParams(Object.entries(more).filter(([, value]) => value !== ''));
		feed.connect(`/instruments/${instrument.id}/stream?${search}`, onsample);
	}
	export function stop() {
		feed.stop();
	}
	async function play() {
		const picked = file?.files?.[0];
		if (!picked) return;
		const kind = instrument?.kind ?? kinds[0] ?? 'multimeter';
		const read = replaySamples(kind, await picked.text());
		if (file) file.value = '';
		if (!read.ok) {
			problem = `${picked.name}: ${read.message}`;
			return;
		}
		problem = '';
		onstart({ id: 'file', label: `file ${picked.name}`.slice(0, 60), kind, simulated: false });
		feed.replay(read.samples, onsample);
	}
	const id = $props.id();
</script>

<div class="flex flex-wrap items-end gap-2 border-l-[5px] border-bar bg-paper-2 px-3 py-2">
	{#if able.length > 0}
		<Field
			id="{id}-which"
			label="Instrument"
			look="w-40"
			bind:value={() => instrument?.id ?? '', (value) => (chosen = value)}
			disabled={running}
			select
		>
			{#each able as item (item.id)}<option value={item.id}>{item.label}</option>{/each}
		</Field>
		{#if instrument?.simulated}
			<Field id="{id}-fault" label="Fault put in" bind:value={fault} disabled={running} class="w-28" select>
				<option value="">none: a sound device</option>
				{#each faults as { code, label } (code)}<option value={code}>{label}</option>{/each}
			</Field>
			<Field
				id="{id}-seed"
				label="Device"
				figure
				type="number"
				min="0"
				max="9999"
				bind:value={seed}
				disabled={running}
				class="w-14"
			/>
		{/if}
		<button type="button" class="btn" onclick={() => (running ? stop() : start())}
			>{running ? 'Stop' : feed.state === 'lost' ? 'Connect again' : 'Start reading'}</button
		>
	{/if}
	<label class="btn" class:hidden={running}>
		Play a file<input
			bind:this={file}
			type="file"
			accept=".csv,.txt,.tsv,text/csv,text/plain"
			class="sr-only"
			onchange={play}
		/>
	</label>
	<div class="ml-auto text-right" aria-live="off">{@render live(running ? feed.latest : null)}</div>
	<p
		role="status"
		class="basis-full text-sm empty:hidden {feed.state === 'lost'
			? 'font-semibold text-short'
			: 'text-ink-soft'}"
	>
		{#if feed.state === 'lost'}▲ The instrument is lost. What it read stays; connect again and the walk goes
			on where it was.
		{:else if feed.state === 'ended'}It has sent all it had.
		{:else if running && instrument?.simulated}Reading a simulated device: kept with this ticket, never as
			known good, and the shop learns nothing from it.
		{:else if able.length === 0}No instrument is connected; a file can be played as one.{/if}
	</p>
	{#if problem}<p role="alert" class="basis-full text-sm font-semibold text-short">{problem}</p>{/if}
</div>
