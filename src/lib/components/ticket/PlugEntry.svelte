<script lang="ts">
	import { codeWords } from '$lib/core/units/code';
	import { readNumberWithin } from '$lib/core/units/typed-number';
	import Field from '../ui/Field.svelte';
	import { powerDetector } from '$lib/core/readings/hold-detector';
	import type { InstrumentInfo } from '$lib/core/readings/instrument';
	import { STAGES, type Stage } from '$lib/core/units/stage';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import { tone, type Sample } from '../instruments/feed.svelte';
	import InstrumentBar from '../instruments/InstrumentBar.svelte';
	import { useDesk } from './desk.svelte';

	/** Takes plug-in and battery readings down, typed or from an instrument. */
	let { bench }: { bench: BenchCatalog } = $props();
	const desk = useDesk();
	let stage = $state<Stage>('diagnosis');
	let orientation = $state<'a' | 'b'>('a');
	let volts = $state('');
	let amps = $state('');
	let seconds = $state('');
	let contract = $state('');
	let on = $state(false);
	let batteryVolts = $state('');
	let cellDegrees = $state('');
	let problem = $state('');
	let voltsField = $state<HTMLElement>();

	const number = (typed: string) => readNumberWithin(typed, 0, 1_000_000);
	/** An optional figure: undefined where nothing is written, null where it is no number. */
	const maybe = (typed: string) => (typed.trim() === '' ? undefined : number(typed));

	/** The fields are free for the next reading at once: the entry waits in the outbox until it is confirmed. */
	function plugIn(event: SubmitEvent) {
		event.preventDefault();
		const [v, a, s, c] = [number(volts), number(amps), maybe(seconds), maybe(contract)];
		if (v === null) problem = `Volts is “${volts}”; write a number such as 5.08`;
		else if (a === null) problem = `Amperes is “${amps}”; write a number such as 0.06`;
		else if (s === null) problem = `Seconds is “${seconds}”; write a whole number or leave it empty`;
		else if (c === null)
			problem = `Negotiated voltage is “${contract}”; write volts such as 9 or leave it empty`;
		else {
			problem = '';
			void desk.send({
				verb: 'plug-in',
				stage,
				orientation,
				volts: v,
				amps: a,
				...(s === undefined ? {} : { seconds: s }),
				...(c === undefined ? {} : { contract: c }),
				...(on ? { on } : {})
			});
			amps = seconds = '';
			orientation = orientation === 'a' ? 'b' : 'a';
			if (voltsField instanceof HTMLInputElement) voltsField.select();
			voltsField?.focus();
		}
	}
	function readBattery(event: SubmitEvent) {
		event.preventDefault();
		const v = number(batteryVolts);
		const degrees = maybe(cellDegrees);
		if (v === null) problem = `Battery is “${batteryVolts}”; write volts such as 3.72`;
		else if (degrees === null)
			problem = `Cells is “${cellDegrees}”; write degrees such as 21 or leave it empty`;
		else {
			void desk.send({
				verb: 'battery',
				stage,
				volts: v,
				...(degrees === undefined ? {} : { celsius: degrees })
			});
			batteryVolts = cellDegrees = problem = '';
		}
	}

	let detector = powerDetector();
	let source = $state.raw<InstrumentInfo | null>(null);
	let heard = $state('');
	function begin(instrument: InstrumentInfo) {
		source = instrument;
		detector = powerDetector();
		heard = '';
	}
	function feed(sample: Sample) {
		if (!('volts' in sample) || !source) return;
		const taken = detector.feed(sample);
		if (!taken) return;
		const meter = source.label;
		tone('taken');
		if (source.kind === 'supply') {
			heard = `battery ${taken.volts.toFixed(2)} V recorded`;
			void desk.send({ verb: 'battery', stage, volts: Math.min(100, taken.volts), meter });
			return;
		}
		heard = `side ${orientation.toUpperCase()} ${taken.amps.toFixed(2)} A recorded`;
		void desk.send({
			verb: 'plug-in',
			stage,
			orientation,
			volts: taken.volts,
			amps: taken.amps,
			seconds: taken.seconds,
			meter,
			...(on ? { on } : {})
		});
		if (taken.last) orientation = orientation === 'a' ? 'b' : 'a';
	}
</script>

<form
	onsubmit={plugIn}
	class="flex flex-wrap items-end gap-2 border-l-[5px] border-copper bg-wash px-3 py-2.5"
>
	<Field id="plug-stage" label="When" look="h-9" bind:value={stage} select>
		{#each STAGES as name (name)}<option value={name}>{codeWords(name)}</option>{/each}
	</Field>
	<Field id="plug-side" label="Side" figure look="h-9" bind:value={orientation} select>
		<option value="a">A</option><option value="b">B</option>
	</Field>
	<Field
		id="plug-volts"
		label="Volts"
		figure
		look="h-9 text-lg"
		inputmode="decimal"
		bind:value={volts}
		bind:element={voltsField}
		class="w-20"
	/>
	<Field
		id="plug-amps"
		label="Amperes"
		figure
		look="h-9 text-lg"
		inputmode="decimal"
		bind:value={amps}
		class="w-20"
	/>
	<Field
		id="plug-seconds"
		label="Seconds after plugging in"
		figure
		look="h-9"
		inputmode="numeric"
		bind:value={seconds}
		class="w-20"
	/>
	<Field
		id="plug-contract"
		label="Negotiated voltage"
		figure
		look="h-9"
		inputmode="decimal"
		bind:value={contract}
		class="w-20"
	/>
	<label class="flex min-h-[34px] items-center gap-1.5"
		><input type="checkbox" bind:checked={on} /> switched on</label
	>
	<button class="btn btn-copper">Record</button>
</form>
<div class="mt-2 grid gap-2">
	<form onsubmit={readBattery} class="flex items-end gap-2 px-3">
		<Field
			id="battery-volts"
			label="Battery, volts"
			figure
			inputmode="decimal"
			bind:value={batteryVolts}
			class="w-32"
		/>
		<Field
			id="cell-degrees"
			label="Cells, °C"
			figure
			inputmode="decimal"
			bind:value={cellDegrees}
			class="w-24"
		/>
		<button class="btn">Record</button>
	</form>
	<InstrumentBar
		instruments={desk.view.instruments}
		kinds={['power-meter', 'supply']}
		model={desk.view.ticket.model}
		faults={bench.faults}
		query={() => ({})}
		onstart={begin}
		onsample={feed}
	>
		{#snippet live(sample)}
			{#if sample && 'volts' in sample}
				<span class="figure text-[1.4rem] leading-none"
					>{sample.volts.toFixed(2)} V {sample.amps.toFixed(3)} A</span
				>
			{/if}
			<span class="block text-sm text-agrees" role="status">{heard ? `● ${heard}` : ''}</span>
		{/snippet}
	</InstrumentBar>
</div>
<p role="alert" class="mt-1 px-3 text-sm font-semibold text-short empty:hidden">{problem}</p>
