<script lang="ts">
	import type { PinVerdict } from '$lib/core/readings/pin-verdict';
	import { formatReading } from '$lib/core/readings/typed-reading';
	import { VERDICT_LOOK } from './verdict-look';

	let {
		pins,
		waiting,
		before
	}: {
		pins: readonly PinVerdict[];
		/** not confirmed yet */
		waiting: ReadonlySet<string>;
		/** what a contact that was read again read before, in order */
		before: ReadonlyMap<string, readonly string[]>;
	} = $props();
	const SEVERITY = ['short', 'open', 'low', 'high', 'no-reference', 'agrees'];
	const rows = $derived([...pins].sort((a, b) => SEVERITY.indexOf(a.verdict) - SEVERITY.indexOf(b.verdict)));
	const off = (value: number | null, centre: number) => {
		if (value === null) return '–';
		const size = Math.abs(value - centre).toFixed(3);
		return size === '0.000' ? size : `${value > centre ? '+' : '−'}${size}`;
	};
</script>

<div class="overflow-x-auto">
	<table class="ledger mt-2">
		<thead>
			<tr
				><th>Contact</th><th>Net</th><th class="num">Read</th><th class="num hidden sm:table-cell"
					>Known good</th
				><th class="num hidden sm:table-cell">Difference</th><th>Verdict</th></tr
			>
		</thead>
		<tbody>
			{#each rows as { pin, net, value, overload, expected, verdict, confidence } (pin)}
				<tr>
					<td class="figure">{pin}</td>
					<td class="figure text-ink-soft">{net}</td>
					<td class="num"
						>{#each before.get(pin) ?? [] as earlier, i (i)}<s class="mr-1.5 text-sm text-ink-soft"
								><span class="sr-only">before </span>{earlier}</s
							>{/each}{formatReading({ value, overload })}{#if waiting.has(pin)}<span class="text-low">
								… <span class="sr-only">not saved yet</span></span
							>{/if}</td
					>
					<td class="num hidden text-ink-soft sm:table-cell"
						>{expected ? (expected.overload ? 'OL' : expected.centre.toFixed(3)) : '–'}</td
					>
					<td class="num hidden sm:table-cell"
						>{expected && !expected.overload ? off(value, expected.centre) : '–'}</td
					>
					<td class="font-semibold {VERDICT_LOOK[verdict].text}">
						<span aria-hidden="true">{VERDICT_LOOK[verdict].shape}</span>
						{VERDICT_LOOK[verdict].word}{#if confidence > 0 && expected}<span
								class="font-normal text-ink-soft"
								>{' · '}{Math.min(99, Math.round(confidence * 100))} % sure, {expected.from}
								{expected.grade}</span
							>{/if}
					</td>
				</tr>
			{/each}
		</tbody>
	</table>
</div>
