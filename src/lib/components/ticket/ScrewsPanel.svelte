<script lang="ts">
	import { nextOut, screwsAmiss, screwsOut } from '$lib/core/bench/screw-map';
	import type { SCREW_MOVES } from '$lib/core/tickets/bench-entries';
	import { useDesk } from './desk.svelte';

	/** Screws, plugs and shields where they sit: taken out in order, put back in reverse, what is amiss is named. */
	const desk = useDesk();
	const map = $derived(desk.view.about.screws ?? []);
	const moves = $derived(desk.ticket.screws);
	const out = $derived(screwsOut(moves));
	const next = $derived(nextOut(moves, map));
	const amiss = $derived(screwsAmiss(moves, map));
	const open = $derived(desk.may('screw'));
	const lastOf = $derived(new Map(moves.map(({ place, did }) => [place, did])));
	let chosen = $state<string | null>(null);
	const at = $derived(chosen ?? out[0] ?? next ?? map[0]?.place ?? null);
	const nameOf = (place: string | null) => {
		const screw = map.find((each) => each.place === place);
		return screw ? `${screw.label}${screw.length_mm === undefined ? '' : `, ${screw.length_mm} mm`}` : '';
	};
	const LOOK = { out: '○', in: '●', missing: '✕', 'left-over': '△' } as const;
	function move(did: (typeof SCREW_MOVES)[number], places: string[]) {
		if (places.length > 0) void desk.send({ verb: 'screw', places, did });
		chosen = null;
	}
	const rest = $derived(map.filter(({ place }) => !lastOf.has(place)).map(({ place }) => place));
</script>

{#if map.length > 0}
	<section class="mt-4 border-t border-edge pt-2" aria-label="Screws and plugs">
		<div class="flex items-baseline justify-between">
			<h2>Screws and plugs</h2>
			<span class="text-sm {amiss.length > 0 ? 'text-low' : 'text-ink-soft'}"
				>{out.length > 0 ? `${out.length} removed` : moves.length > 0 ? 'all back' : 'none removed yet'}</span
			>
		</div>
		<div class="mt-1 flex flex-wrap gap-3">
			<div
				class="relative h-44 w-32 shrink-0 rounded border-2 border-ink bg-mat/50 max-sm:h-72 max-sm:w-52"
				role="group"
				aria-label="Screw map"
			>
				{#each map as screw, i (screw.place)}
					<button
						class="absolute size-6 -translate-1/2 rounded-full border bg-paper text-[0.7rem] leading-none max-sm:size-9 {screw.place ===
						at
							? 'border-copper outline-3 outline-copper'
							: 'border-ink'}"
						style:left="{screw.x ?? 10 + 10 * (i % 8)}%"
						style:top="{screw.y ?? 10 + 12 * Math.floor(i / 8)}%"
						aria-label="{nameOf(screw.place)}: {lastOf.get(screw.place) ?? 'in place'}"
						aria-pressed={screw.place === at}
						onclick={() => (chosen = screw.place)}
						>{lastOf.has(screw.place) ? LOOK[lastOf.get(screw.place) as 'out'] : i + 1}</button
					>
				{/each}
			</div>
			<div class="min-w-52 flex-1">
				<p><strong>{nameOf(at)}</strong></p>
				<div class="mt-1 flex flex-wrap gap-1.5">
					<button class="btn btn-small" disabled={!open || !at} onclick={() => move('out', at ? [at] : [])}
						>Out</button
					>
					<button class="btn btn-small" disabled={!open || !at} onclick={() => move('in', at ? [at] : [])}
						>Back in</button
					>
					<button
						class="btn btn-small"
						disabled={!open || !at}
						onclick={() => move('missing', at ? [at] : [])}>Was missing</button
					>
					<button
						class="btn btn-small"
						disabled={!open || !at}
						onclick={() => move('left-over', at ? [at] : [])}>One left over</button
					>
				</div>
				<div class="mt-2 flex flex-wrap gap-1.5">
					<button
						class="btn btn-small"
						disabled={!open || rest.length === 0}
						onclick={() => move('out', rest)}>Remove the rest</button
					>
					<button class="btn btn-small" disabled={!open || out.length === 0} onclick={() => move('in', out)}
						>Refit in reverse order</button
					>
				</div>
				{#if amiss.length > 0}
					<ul class="mt-2 text-sm text-low">
						{#each amiss as words (words)}<li>▽ {words}</li>{/each}
					</ul>
				{/if}
				<p class="mt-1 text-sm text-ink-soft">
					A long screw in a short hole breaks the board. The length is shown beside each screw.
				</p>
			</div>
		</div>
	</section>
{/if}
