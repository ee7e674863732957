<script lang="ts">
	import { codeWords } from '$lib/core/units/code';
	import { pinDetector } from '$lib/core/readings/hold-detector';
	import { MODES } from '$lib/core/units/probed-place';
	import { formatReading } from '$lib/core/readings/typed-reading';
	import { beforeRepair, STAGES } from '$lib/core/units/stage';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import { tone, type Sample } from '../instruments/feed.svelte';
	import InstrumentBar from '../instruments/InstrumentBar.svelte';
	import { useDesk } from './desk.svelte';
	import { PinWalk } from './pin-walk.svelte';
	import KeepProvisional from './KeepProvisional.svelte';
	import PinEntry from './PinEntry.svelte';
	import PinTable from './PinTable.svelte';
	import PointsPanel from './PointsPanel.svelte';
	import PortFace, { type FaceContact } from './PortFace.svelte';
	import { VERDICT_LOOK } from './verdict-look';

	let { bench }: { bench: BenchCatalog } = $props();
	const desk = useDesk();
	const walk = new PinWalk(desk);
	const connector = $derived(desk.view.connector);
	const open = $derived(desk.may('read-pins'));
	const judged = $derived(walk.comparison.pins);
	const contacts = $derived(
		Object.fromEntries(
			judged.map(({ pin, value, overload, verdict }): [string, FaceContact] => [
				pin,
				{
					text: `${formatReading({ value, overload })}${walk.waiting.has(pin) ? '…' : ''}`,
					shape: VERDICT_LOOK[verdict].shape,
					tone: VERDICT_LOOK[verdict].text,
					filled: verdict === 'short',
					dashed: verdict === 'open'
				}
			])
		)
	);
	let entry = $state<PinEntry>();
	let bar = $state<InstrumentBar>();
	let heard = $state('');
	let detector = pinDetector();
	/** contacts that the running walk still has to take */
	let left = 0;

	function begin({ label }: { label: string }) {
		detector = pinDetector();
		left = walk.restOfSide.length;
		walk.meter = label;
		void walk.askExpected();
	}
	function feed(sample: Sample) {
		if (!('volts' in sample)) {
			const shown = detector.feed(sample);
			if (!shown || left <= 0) return;
			const pin = walk.current?.pin ?? '';
			void walk.take(shown);
			left -= 1;
			heard = `${pin} ${formatReading(shown)} taken`;
			const verdict = walk.comparison.pins.find((judged) => judged.pin === pin)?.verdict;
			tone(verdict === 'agrees' || verdict === 'no-reference' ? 'taken' : 'off');
			if (left === 0) bar?.stop();
		}
	}
	const keepable = $derived(
		open &&
			judged.length > 0 &&
			judged.some(({ net, expected }) => net !== 'gnd' && expected?.grade !== 'verified')
	);
</script>

{#if !connector}
	<p class="rounded border border-edge bg-paper-2 p-3">
		This model has no connector yet, so there are no contacts to read. A manager can add it under Settings,
		Catalog.
	</p>
{:else}
	<PortFace
		{connector}
		{contacts}
		current={walk.current?.pin ?? null}
		onpick={(pin) => {
			walk.go(pin);
			entry?.focus();
		}}
	/>
	{#if open}
		<PinEntry bind:this={entry} {walk} steadyFrom={desk.view.steadyFrom} />
		{#if walk.mode === 'diode'}
			<div class="mt-1.5">
				<InstrumentBar
					bind:this={bar}
					instruments={desk.view.instruments}
					kinds={['multimeter']}
					model={desk.view.ticket.model}
					faults={bench.faults}
					query={() => ({ pins: walk.restOfSide.map(({ pin }) => pin).join(' ') })}
					onstart={begin}
					onsample={feed}
				>
					{#snippet live(sample)}
						{#if sample && !('volts' in sample)}
							<span class="figure text-[1.6rem] leading-none">{formatReading(sample)}</span>
						{/if}
						<span class="block text-sm text-agrees" role="status">{heard ? `● ${heard}` : ''}</span>
					{/snippet}
				</InstrumentBar>
			</div>
		{/if}
	{/if}
	<div class="mt-1.5 flex flex-wrap items-center gap-x-3 gap-y-1 text-sm text-ink-soft">
		<label for="pin-stage">Readings of</label>
		<select id="pin-stage" class="field w-auto" bind:value={walk.stage} onchange={() => walk.start()}>
			{#each STAGES as name (name)}<option value={name}>{codeWords(name)}</option>{/each}
		</select>
		<label for="pin-mode">in</label>
		<select id="pin-mode" class="field w-auto" bind:value={walk.mode} onchange={() => walk.start()}>
			{#each MODES as name (name)}<option>{name}</option>{/each}
		</select>
		<label for="pin-meter">with</label>
		<input
			id="pin-meter"
			class="field w-36"
			list="pin-meters"
			placeholder="meter"
			autocomplete="off"
			maxlength="64"
			bind:value={walk.meter}
			onchange={() => walk.askExpected()}
		/>
		<datalist id="pin-meters"
			>{#each desk.view.meters as name (name)}<option>{name}</option>{/each}</datalist
		>
		<label for="pin-board">board</label>
		<input
			id="pin-board"
			class="field w-20"
			list="pin-boards"
			placeholder="rev."
			autocomplete="off"
			maxlength="64"
			bind:value={walk.board}
			onchange={() => walk.askExpected()}
		/>
		<datalist id="pin-boards"
			>{#each desk.view.boards as name (name)}<option>{name}</option>{/each}</datalist
		>
		<span class="ml-auto"
			><span class="figure">{judged.length}</span> of <span class="figure">{walk.pins.length}</span> read</span
		>
	</div>
	{#each walk.comparison.findings as finding (finding.text)}
		<p class="mt-1.5 border-l-[5px] border-high bg-paper-2 px-3 py-1.5">{finding.text}.</p>
	{/each}
	{#if judged.length > 0}
		<PinTable pins={judged} waiting={walk.waiting} before={walk.before} />
		{#if keepable && beforeRepair(walk.stage)}
			<KeepProvisional comparison={walk.comparison} mode={walk.mode} />
		{/if}
	{/if}
{/if}
{#if desk.view.about.points}<PointsPanel />{/if}
