<script lang="ts">
	import { readNumberWithin } from '$lib/core/units/typed-number';
	import Field from '../ui/Field.svelte';
	import { soakDrain, SOAK_WORDS } from '$lib/core/charging/soak';
	import { useDesk } from './desk.svelte';
	import StrikeOut from './StrikeOut.svelte';

	/** The soak: per cent of battery over time, against what the model should lose. */
	const desk = useDesk();
	const points = $derived(desk.ticket.soak);
	const open = $derived(desk.may('soak'));
	const finding = $derived(soakDrain(points, desk.view.drainPerHour));
	let minutes = $state('');
	let percent = $state('');
	let problem = $state('');
	/** minutes since the first look, by the clock, where nobody writes them */
	const elapsed = $derived.by(() => {
		const first = points[0];
		return first?.at === undefined ? 0 : Math.round((desk.view.now - first.at) / 60_000 + first.minutes);
	});
	function take(event: SubmitEvent) {
		event.preventDefault();
		const p = readNumberWithin(percent, 0, 100);
		const byClock = points.length === 0 ? 0 : elapsed;
		const m = minutes.trim() === '' ? byClock : readNumberWithin(minutes, 0, 100_000);
		if (p === null) problem = `Battery is “${percent}”; write a percentage from 0 to 100`;
		else if (m === null)
			problem = `Minutes is “${minutes}”; write a number, or leave it empty to use the clock`;
		else {
			problem = '';
			void desk.send({ verb: 'soak', minutes: m, percent: p });
			minutes = percent = '';
		}
	}
	const tone = {
		'too-early': 'text-none',
		'as-it-should': 'text-agrees',
		'drains-fast': 'text-short',
		'not-sure-yet': 'text-low',
		'not-a-soak': 'text-none'
	};
	const shape = {
		'too-early': '·',
		'as-it-should': '●',
		'drains-fast': '▼',
		'not-sure-yet': '▽',
		'not-a-soak': '·'
	};
</script>

<section class="mt-3" aria-labelledby="soak">
	<h2 id="soak" class="text-ink">Soak</h2>
	<p>
		<span class="font-semibold {tone[finding.verdict]}"
			><span aria-hidden="true">{shape[finding.verdict]}</span> {SOAK_WORDS[finding.verdict]}</span
		>{#if finding.perHour}: <span class="figure"
				>{finding.perHour.value.toFixed(1)} % an hour ({finding.perHour.low.toFixed(1)} to {finding.perHour.high.toFixed(
					1
				)})</span
			>{/if}
		<span class="text-sm text-ink-soft"
			>from {finding.from}
			{finding.from === 1 ? 'look' : 'looks'}; it should lose about {finding.expected} %{finding.typical
				? ', a usual value; the model has none'
				: ''}</span
		>
	</p>
	{#if open}
		<form onsubmit={take} class="mt-1 flex flex-wrap items-end gap-2">
			<Field
				id="soak-minutes"
				label="Minutes since start"
				figure
				inputmode="decimal"
				placeholder={String(elapsed)}
				bind:value={minutes}
				autocomplete="off"
				class="w-28"
			/>
			<Field
				id="soak-percent"
				label="Battery, %"
				figure
				inputmode="decimal"
				bind:value={percent}
				autocomplete="off"
				class="w-28"
			/>
			<button class="btn">Record</button>
		</form>
		<p role="alert" class="text-sm font-semibold text-short empty:hidden">{problem}</p>
	{/if}
	{#if points.length > 0}
		<p class="mt-1 text-sm">
			{#each points as point, i (i)}<span class="mr-3 whitespace-nowrap"
					><span class="figure">{point.percent} % at {point.minutes} min</span>
					<StrikeOut list="soak" index={i} what="soak {i + 1}" /></span
				>{/each}
		</p>
	{/if}
</section>
