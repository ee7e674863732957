<script lang="ts">
	import { judgeSupply, SUPPLY_WORDS } from '$lib/core/charging/judge-supply';
	import type { SupplyFeed } from '$lib/core/units/seen-codes';
	import { readNumberWithin } from '$lib/core/units/typed-number';
	import { isTwoRow } from '$lib/core/charging/healthy-draw';
	import Field from '../ui/Field.svelte';
	import { useDesk } from './desk.svelte';
	import StrikeOut from './StrikeOut.svelte';

	/** The bench supply at the port or instead of the battery: amperes in the order of time, and what they say. */
	const desk = useDesk();
	const open = $derived(desk.may('supply'));
	const two = $derived(isTwoRow(desk.view.connector));
	let volts = $state('');
	let amps = $state('');
	let side = $state('a');
	let fed = $state<SupplyFeed>('port');
	let problem = $state<string | null>(null);
	const typed = $derived(
		amps
			.split(/[\s;]+/)
			.filter(Boolean)
			.map((text) => readNumberWithin(text, 0, 100))
	);
	const sound = $derived(typed.filter((value) => value !== null));
	const verdict = $derived(
		sound.length > 1 && sound.length === typed.length ? SUPPLY_WORDS[judgeSupply(sound)] : ''
	);
	function keep(event: SubmitEvent) {
		event.preventDefault();
		const at = readNumberWithin(volts, 0, 60);
		if (at === null) problem = `Volts is “${volts}”; write what the supply is set to, such as 3.9`;
		else if (sound.length < 2 || sound.length !== typed.length)
			problem = `Amperes is “${amps}”; write two or more in time order: 0.02 0.18 0.03`;
		else {
			problem = null;
			void desk.send({
				verb: 'supply',
				volts: at,
				amps: sound,
				...(fed === 'battery' ? { fed } : two ? { orientation: side as 'a' | 'b' } : {})
			});
			amps = '';
		}
	}
</script>

<section class="mt-4 border-t border-edge pt-2" aria-label="Bench supply">
	<h2>Bench supply</h2>
	{#each desk.ticket.supply as shown, i (i)}
		<p class="border-b border-edge py-0.5">
			<span class="figure"
				>{shown.fed === 'battery' ? 'instead of the battery, ' : ''}{shown.volts} V{shown.orientation
					? `, side ${shown.orientation.toUpperCase()}`
					: ''}: {shown.amps.join(' ')} A</span
			>
			<strong>{SUPPLY_WORDS[judgeSupply(shown.amps)]}</strong>
			<StrikeOut list="supply" index={i} what="look {i + 1} through the supply" />
		</p>
	{/each}
	{#if open}
		<form class="mt-1 flex flex-wrap items-end gap-2" onsubmit={keep}>
			<Field
				id="supply-volts"
				label="Voltage set"
				figure
				inputmode="decimal"
				bind:value={volts}
				class="w-28"
			/>
			<Field id="supply-fed" label="Connected" bind:value={fed} select class="w-52"
				><option value="port">through the port</option><option value="battery">instead of the battery</option
				></Field
			>
			{#if two && fed === 'port'}
				<Field id="supply-side" label="Side" bind:value={side} select class="w-20"
					><option value="a">A</option><option value="b">B</option></Field
				>
			{/if}
			<Field
				id="supply-amps"
				label="Current readings, A"
				figure
				bind:value={amps}
				class="min-w-44 flex-1"
				placeholder="0.02 0.18 0.03"
				error={problem}
			/>
			<button class="btn">Keep</button>
		</form>
		<p class="text-sm text-ink-soft" role="status">{verdict}</p>
		<p class="text-sm font-semibold text-short">
			▲ Set the current limit first. The maker’s voltage for the pack takes priority over any figure here.
		</p>
	{/if}
</section>
