<script lang="ts">
	import type { Comparison } from '$lib/core/readings/compare';
	import { formatReading } from '$lib/core/readings/typed-reading';
	import type { Mode } from '$lib/core/readings/reference';
	import { SvelteMap } from 'svelte/reactivity';
	import { useDesk } from './desk.svelte';
	import { VERDICT_LOOK } from './verdict-look';

	/**
	 * Readings of a board with a fault that may stand in for known good: contact by contact, and what a finding names is left
	 * out until somebody says otherwise.
	 */
	let { comparison, mode }: { comparison: Comparison; mode: Mode } = $props();
	const desk = useDesk();
	let asking = $state(false);
	let kept = $state(0);
	const suspects = $derived(new Set(comparison.findings.flatMap(({ pins }) => pins)));
	const sound = $derived(
		comparison.pins.filter(({ verdict }) => verdict === 'agrees' || verdict === 'no-reference')
	);
	/** what was said by hand, over what the findings say */
	const said = new SvelteMap<string, boolean>();
	const stands = (pin: string) => said.get(pin) ?? !suspects.has(pin);
	const chosen = $derived(sound.map(({ pin }) => pin).filter(stands));

	async function keep() {
		const pins = chosen;
		if (await desk.send({ verb: 'keep-provisional', mode, pins })) kept = pins.length;
		asking = false;
	}
</script>

{#if kept > 0}
	<p class="mt-2 text-sm text-ink-soft">
		● Kept as provisional: <span class="figure">{kept}</span>
		{kept === 1 ? 'contact' : 'contacts'}.
	</p>
{:else if !asking}
	<p class="mt-2 flex flex-wrap items-center gap-3 text-sm text-ink-soft">
		<button class="btn btn-small" onclick={() => (asking = true)}>Keep as provisional</button>
		Some of these have no verified known-good reading. Good contacts of this board can be used until a device has
		passed every final check.
	</p>
{:else}
	<fieldset class="mt-2 border-l-[5px] border-copper bg-wash px-3 py-2">
		<legend class="sr-only">Use as provisional known good</legend>
		<p class="text-sm">
			Choose the contacts that read as on a good board. Deviating ones, and those named in a finding, are not
			selected.
		</p>
		<div class="mt-1.5 flex flex-wrap gap-1.5">
			{#each sound as { pin, value, overload } (pin)}
				<button
					type="button"
					class="btn btn-small figure"
					aria-pressed={stands(pin)}
					onclick={() => said.set(pin, !stands(pin))}
					>{stands(pin) ? VERDICT_LOOK.agrees.shape : '–'}
					{pin}
					{formatReading({ value, overload })}{suspects.has(pin) ? ' ?' : ''}</button
				>
			{/each}
		</div>
		<div class="mt-2 flex gap-2">
			<button class="btn btn-small btn-copper" disabled={chosen.length === 0} onclick={keep}
				>Keep {chosen.length} of {comparison.pins.length}</button
			>
			<button class="btn btn-small" onclick={() => (asking = false)}>Not now</button>
		</div>
	</fieldset>
{/if}
