<script lang="ts">
	import type { Signature } from '$lib/core/readings/signatures';
	import { VERDICT_LOOK } from '../ticket/verdict-look';

	type Worded = Signature & { label: string };
	let {
		signatures,
		label,
		connector
	}: {
		signatures: { contacts: Worded[]; nets: Worded[]; ownTickets: number; allTickets: number };
		label: string;
		connector: string;
	} = $props();
	const percent = (share: number) => `${Math.round(share * 100)}`;
	const lists = $derived([
		{ title: `Contacts, ${label}`, items: signatures.contacts, from: signatures.ownTickets },
		{ title: `Nets, every model with ${connector}`, items: signatures.nets, from: signatures.allTickets }
	]);
</script>

<section class="slip overflow-x-auto" aria-labelledby="signatures">
	<h2 id="signatures" class="mb-1 text-ink">Signatures</h2>
	<p class="text-sm text-ink-soft">
		Deviations that went with a confirmed fault, from closed tickets. At most one in twenty of those shown is
		expected to be chance. The odds use them too.
	</p>
	{#each lists as { title, items, from } (title)}
		<h3 class="mt-2 text-sm font-semibold">
			{title} <span class="figure font-normal text-ink-soft">{from} {from === 1 ? 'ticket' : 'tickets'}</span>
		</h3>
		{#if items.length === 0}
			<p class="text-sm text-ink-soft">
				{from < 20 ? 'Too few tickets with readings to say.' : 'None stands out from chance.'}
			</p>
		{:else}
			<table class="ledger">
				<thead
					><tr
						><th>Where</th><th>Direction</th><th>Fault</th><th class="num">With it</th><th class="num"
							>Without</th
						></tr
					></thead
				>
				<tbody>
					{#each items as { place, verdict, values, fault, label, withFault, without } (place + verdict + fault)}
						<tr>
							<td class="figure">{place}</td>
							<td class="{VERDICT_LOOK[verdict].text} font-semibold whitespace-nowrap"
								><span aria-hidden="true">{VERDICT_LOOK[verdict].shape}</span>
								{VERDICT_LOOK[verdict].word}{#if values}<span
										class="figure block text-[0.82rem] font-normal text-ink-soft"
										title="{values.low.toFixed(3)} to {values.high.toFixed(3)}"
										>about {values.centre.toFixed(2)}</span
									>{/if}</td
							>
							<td>{label}</td>
							<td class="num" title="95 % interval"
								>{withFault.hits}/{withFault.of}<span class="block text-[0.78rem] text-ink-soft"
									>{percent(withFault.low)}–{percent(withFault.high)} %</span
								></td
							>
							<td class="num" title="95 % interval"
								>{without.hits}/{without.of}<span class="block text-[0.78rem] text-ink-soft"
									>{percent(without.low)}–{percent(without.high)} %</span
								></td
							>
						</tr>
					{/each}
				</tbody>
			</table>
		{/if}
	{/each}
</section>
