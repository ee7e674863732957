<script lang="ts">
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
		const p = Number(percent.trim().replace(',', '.'));
		const m =
			minutes.trim() === '' ? (points.length === 0 ? 0 : elapsed) : Number(minutes.trim().replace(',', '.'));
		if (percent.trim() === '' || !(p >= 0 && p <= 100))
			problem = `Battery is “${percent}”; write per cent from 0 to 100`;
		else if (!(m >= 0)) problem = `Minutes is “${minutes}”; write a number, or leave it empty for the clock`;
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
		'not-sure-yet': 'text-low'
	};
	const shape = { 'too-early': '·', 'as-it-should': '●', 'drains-fast': '▼', 'not-sure-yet': '▽' };
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
				? ', a usual value: the model names none'
				: ''}</span
		>
	</p>
	{#if open}
		<form onsubmit={take} class="mt-1 flex flex-wrap items-end gap-2">
			<div class="w-28">
				<label class="label" for="soak-minutes">Minutes in</label>
				<input
					id="soak-minutes"
					class="field figure"
					inputmode="decimal"
					placeholder={String(elapsed)}
					bind:value={minutes}
					autocomplete="off"
				/>
			</div>
			<div class="w-28">
				<label class="label" for="soak-percent">Battery, %</label>
				<input
					id="soak-percent"
					class="field figure"
					inputmode="decimal"
					bind:value={percent}
					autocomplete="off"
				/>
			</div>
			<button class="btn">Take down</button>
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
