<script lang="ts">
	import Field from '../ui/Field.svelte';
	import { gaugeDiameterMm, jumper, onderdonkSeconds, traceAmps } from '$lib/core/charging/copper-wire';
	import NumberField from './NumberField.svelte';
	import Tool from './Tool.svelte';

	let by = $state<'diameter' | 'gauge'>('diameter');
	let diameter = $state(0.1);
	let gauge = $state(38);
	let length = $state(10);
	let wires = $state(1);
	let amps = $state(3);
	let celsius = $state(40);
	let dropMv = $state(25);
	const diameterMm = $derived(by === 'diameter' ? diameter : gaugeDiameterMm(gauge));
	const found = $derived(
		jumper({
			diameterMm,
			lengthMm: length,
			wires: Math.max(1, Math.round(wires)),
			amps,
			celsius,
			dropVolts: dropMv / 1000
		})
	);
	const needed = $derived(Math.max(found.wiresForDrop, found.wiresForFusing));
	const LOOK = {
		fine: { shape: '●', tone: 'text-agrees', words: 'enough copper' },
		thin: { shape: '▽', tone: 'text-low', words: 'too thin: double the wires' },
		melts: { shape: '▼', tone: 'text-short', words: 'above its fusing current: it melts' }
	};
	const look = $derived(LOOK[found.verdict]);
</script>

<Tool
	rests={[
		'R = ρ·L / (N·A), ρ 1.7241·10⁻⁸ Ω·m at 20 °C, +0.393 % a kelvin (IEC 60028); joints are not counted.',
		'Gauge: 0.127 mm · 92^((36 − n)/39) (ASTM B258). The diameter is the copper’s: enamel does not count.',
		'Fusing current 80 · d^1.5 A, long wire in free air (Preece 1884, 1888); seconds by Onderdonk’s formula, short times only. A fusing current is not a permitted current; a short jumper on copper runs cooler than either says. The margin of two is a choice.',
		'Trace: 0.048 · ΔT^0.44 · A^0.725, outer layer, 35 µm (IPC-2221).'
	]}
>
	{#snippet fields()}
		<Field id="wire-by" label="Wire by" look="w-auto" bind:value={by} select
			><option value="diameter">diameter</option><option value="gauge">American gauge</option></Field
		>
		{#if by === 'diameter'}<NumberField
				label="Copper diameter"
				unit="mm"
				bind:value={diameter}
				min={0.005}
				max={5}
			/>
		{:else}<NumberField label="Gauge" unit="AWG" bind:value={gauge} min={0} max={50} />{/if}
		<NumberField label="Length" unit="mm" bind:value={length} min={0.1} max={10000} />
		<NumberField label="Wires in parallel" unit="" bind:value={wires} min={1} max={200} />
		<NumberField label="Current" unit="A" bind:value={amps} min={0} max={100} />
		<NumberField label="Copper temperature" unit="°C" bind:value={celsius} min={-40} max={200} />
		<NumberField label="Allowed drop" unit="mV" bind:value={dropMv} min={0.1} max={5000} />
	{/snippet}
	{#snippet result()}
		<p class="text-lg font-semibold {look.tone}"><span aria-hidden="true">{look.shape}</span> {look.words}</p>
		<p class="mb-2">
			For <span class="figure">{amps} A</span> within <span class="figure">{dropMv} mV</span> and half the
			fusing current it takes
			<b class="figure">{needed}</b>
			{needed === 1 ? 'wire' : 'wires'} of <span class="figure">{diameterMm.toFixed(3)} mm</span>.
		</p>
		<table class="ledger max-w-md">
			<tbody>
				<tr><td>Resistance</td><td class="num">{(found.ohms * 1000).toFixed(2)} mΩ</td></tr>
				<tr><td>Drop</td><td class="num">{(found.dropVolts * 1000).toFixed(1)} mV</td></tr>
				<tr><td>Heat</td><td class="num">{(found.watts * 1000).toFixed(1)} mW</td></tr>
				<tr><td>In each wire</td><td class="num">{found.each.toFixed(2)} A</td></tr>
				<tr><td>Fusing current of one, steady</td><td class="num">{found.fusingAmps.toFixed(2)} A</td></tr>
				<tr
					><td>Margin</td><td class="num"
						>{Number.isFinite(found.margin) ? `${found.margin.toFixed(1)} ×` : '–'}</td
					></tr
				>
				<tr
					><td>Melts after, no heat lost</td><td class="num"
						>{found.each > 0 ? `${onderdonkSeconds(diameterMm, found.each).toPrecision(2)} s` : '–'}</td
					></tr
				>
				<tr
					><td>A 1 mm trace beside it, 10 K warmer</td><td class="num"
						>{traceAmps({ widthMm: 1, copperUm: 35, riseK: 10 }).toFixed(1)} A</td
					></tr
				>
			</tbody>
		</table>
		<p class="mt-2 text-sm font-semibold text-short">
			▲ Battery out of the circuit before any wire is soldered. Extraction on; eye protection when cutting and
			curing.
		</p>
	{/snippet}
</Tool>
