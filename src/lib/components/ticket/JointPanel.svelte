<script lang="ts">
	import { keyToAction } from '$lib/components/ui/key-to-action';
	import type { PushedState } from '$lib/core/evidence/joint-state';
	import { latestByPlace } from '$lib/core/evidence/latest-by-place';
	import PortFace, { type FaceContact } from './PortFace.svelte';
	import { useDesk } from './desk.svelte';
	import { JOINT_MARKS } from './joint-marks';

	/** The joint test: every contact and anchor of the port pushed under the lens, one key each. */
	let { active }: { active: boolean } = $props();
	const desk = useDesk();
	const connector = $derived(desk.view.connector);
	const ANCHORS = ['anchor 1', 'anchor 2', 'anchor 3', 'anchor 4'];
	/** pushed since the last work that may have undone it */
	const since = $derived(Math.max(0, ...desk.ticket.attempts.map(({ at, part }) => (part ? 0 : (at ?? 0)))));
	const states = $derived(latestByPlace(desk.ticket.joints.filter(({ at }) => (at ?? Infinity) >= since)));
	const LOOK: Record<PushedState, Omit<FaceContact, 'text'>> = {
		...JOINT_MARKS,
		redo: { shape: '✕', tone: 'text-short' }
	};
	const contacts = $derived(
		Object.fromEntries(
			[...states].map(([place, state]): [string, FaceContact] => [place, { text: state, ...LOOK[state] }])
		)
	);
	const pins = $derived(connector?.pins.map(({ pin }) => pin) ?? []);
	const places = $derived([...ANCHORS, ...pins]);
	const left = $derived(places.filter((place) => !states.has(place)).length);
	let place = $state<string | null>(null);
	const open = $derived(desk.may('joint'));
	const KEYS = { f: 'firm', m: 'moves', c: 'cracked', d: 'dry', b: 'bridged', r: 'redo' } as const;

	function mark(state: PushedState) {
		if (place === null) return;
		void desk.send({ verb: 'joint', place, state });
		place = places[places.indexOf(place) + 1] ?? place;
	}
	function keys(event: KeyboardEvent) {
		if (!active || !open || place === null) return;
		const state = keyToAction(KEYS, event);
		if (state === null) return;
		event.preventDefault();
		mark(state);
	}
</script>

<svelte:window onkeydown={keys} />
{#if connector}
	<section class="mt-4 border-t border-edge pt-2" aria-label="Joint test">
		<div class="mb-1 flex items-baseline justify-between">
			<h2>Joint test</h2>
			<span class="text-sm text-ink-soft"
				>{states.size === 0
					? 'anchors first, then each contact'
					: left === 0
						? 'every joint tested'
						: `${left} not tested yet`}</span
			>
		</div>
		<div class="mb-1.5 flex flex-wrap gap-1.5">
			{#each ANCHORS as anchor (anchor)}
				<button
					class="btn btn-small"
					aria-pressed={place === anchor}
					disabled={!open}
					onclick={() => (place = anchor)}
					>{anchor}{states.has(anchor) ? `: ${states.get(anchor)}` : ''}</button
				>
			{/each}
		</div>
		<PortFace {connector} {contacts} current={place} onpick={(pin) => (place = pin)} />
		{#if place !== null && open}
			<div class="mt-2 flex flex-wrap items-center gap-1.5 border-l-[5px] border-copper bg-wash px-3 py-2">
				<strong class="figure mr-1 text-xl">{place}</strong>
				{#each Object.entries(KEYS) as [key, state] (key)}
					<button class="btn btn-small" onclick={() => mark(state)}
						>{state} <span class="key">{key.toUpperCase()}</span></button
					>
				{/each}
			</div>
		{/if}
	</section>
{/if}
