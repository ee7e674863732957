<script lang="ts">
	import { isForView } from '$lib/components/ui/key-to-action';
	import { latestByPlace } from '$lib/core/evidence/latest-by-place';
	import { codeEntry } from '$lib/core/units/code';
	import {
		CONTACT_STATES,
		JOINT_STATES,
		PORT_PLACES,
		type ContactState,
		type JointState
	} from '$lib/core/units/seen-codes';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import SignRow from '../ui/SignRow.svelte';
	import { useDesk } from './desk.svelte';
	import CountFields from './CountFields.svelte';
	import { JOINT_MARKS } from './joint-marks';
	import PhotosPanel from './PhotosPanel.svelte';
	import PortFace, { type FaceContact } from './PortFace.svelte';

	let { bench, active }: { bench: BenchCatalog; active: boolean } = $props();
	const desk = useDesk();
	const ticket = $derived(desk.ticket);
	const connector = $derived(desk.view.connector);
	const open = $derived(desk.may('look'));
	let place = $state<string | null>(null);

	type SeenState = ContactState | JointState;
	const LOOK: Record<SeenState, Omit<FaceContact, 'text'>> = {
		straight: { shape: '●', tone: 'text-agrees' },
		bent: { shape: '△', tone: 'text-high' },
		folded: { shape: '▽', tone: 'text-low' },
		touching: { shape: '▼', tone: 'text-short', filled: true },
		missing: { shape: '◌', tone: 'text-open', dashed: true },
		burnt: { shape: '✕', tone: 'text-short' },
		corroded: { shape: '◆', tone: 'text-low' },
		...JOINT_MARKS
	};
	/** joints have words of their own */
	const states = $derived<readonly SeenState[]>(place === 'joints' ? JOINT_STATES : CONTACT_STATES);
	const seen = $derived(latestByPlace(ticket.inspection));
	/** seen and not confirmed yet */
	const waiting = $derived(
		new Set(ticket.inspection.filter((_, i) => desk.isWaiting('inspection', i)).map(({ place }) => place))
	);
	const contacts = $derived(
		Object.fromEntries(
			[...seen].map(([place, state]) => [
				place,
				{ text: `${state.slice(0, 4)}${waiting.has(place) ? '…' : ''}`, ...LOOK[state] }
			])
		)
	);
	const pins = $derived(connector?.pins.map(({ pin }) => pin) ?? []);
	const unseen = $derived(pins.filter((pin) => !seen.has(pin)));

	/** Goes on to the next contact at once: hands do not wait for the server. */
	function mark(state: SeenState) {
		if (place === null) return;
		void desk.send({ verb: 'look', places: [place], state });
		const at = pins.indexOf(place);
		place = at >= 0 && at + 1 < pins.length ? (pins[at + 1] ?? null) : place;
	}
	const restStraight = () =>
		desk.send({
			verb: 'look',
			places: [...unseen, ...PORT_PLACES.filter((p) => !seen.has(p))],
			state: 'straight'
		});

	function keys(event: KeyboardEvent) {
		if (!active || !open || place === null || !isForView(event)) return;
		const state = states[Number(event.key) - 1];
		if (!state) return;
		event.preventDefault();
		mark(state);
	}
	const kinds = [
		{ kind: 'symptom', title: 'Symptoms' },
		{ kind: 'history', title: 'History' },
		{ kind: 'visual', title: 'On inspection' }
	] as const;
</script>

<svelte:window onkeydown={keys} />

<p class="mb-2 text-ink-soft">
	Look into the port before anything is plugged in. Rule out dirt or damage first.
</p>
{#if connector}
	<PortFace {connector} {contacts} current={place} onpick={(pin) => (place = pin)} />
	<div class="mt-2 flex flex-wrap items-center gap-1.5">
		{#each PORT_PLACES as name (name)}
			<button
				class="btn btn-small"
				aria-pressed={place === name}
				disabled={!open}
				onclick={() => (place = name)}
				>{name}{#if seen.has(name)}: {seen.get(name)}{/if}</button
			>
		{/each}
		<button class="btn btn-small ml-auto" disabled={!open || unseen.length === 0} onclick={restStraight}>
			Everything else is good
		</button>
	</div>
	{#if place !== null && open}
		<div class="mt-2 flex flex-wrap items-center gap-1.5 border-l-[5px] border-copper bg-wash px-3 py-2">
			<strong class="figure mr-1 text-xl">{place}</strong>
			{#each states as state, i (state)}
				<button class="btn btn-small" onclick={() => mark(state)}
					>{state} <span class="key">{i + 1}</span></button
				>
			{/each}
		</div>
	{/if}
{:else}
	<p class="rounded border border-edge bg-paper-2 p-3">
		This model has no connector yet, so its port cannot be shown. A manager can add it under Settings,
		Catalog.
	</p>
{/if}
<CountFields {bench} at="look" />
<div class="mt-3 grid gap-x-6 gap-y-1 sm:grid-cols-2">
	{#each kinds as { kind, title } (kind)}
		<section aria-label={title} class={kind === 'symptom' ? 'sm:row-span-2' : ''}>
			<h2 class="mb-0.5">{title}</h2>
			{#each bench.signs.filter((sign) => sign.kind === kind) as sign (sign.code)}
				<SignRow
					label={sign.label}
					value={codeEntry(ticket.signs, sign.code) ?? null}
					disabled={!desk.may('sign')}
					onchange={(present) => desk.send({ verb: 'sign', sign: sign.code, present })}
				/>
			{/each}
		</section>
	{/each}
</div>
<PhotosPanel at={ticket.attempts.length > 0 ? 'board' : 'intake'} />
