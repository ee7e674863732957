<script lang="ts">
	import PortFace, { type FaceContact } from '$lib/components/ticket/PortFace.svelte';
	let { data } = $props();
	let current = $state<string | null>(null);
	const faces = $derived(
		Object.fromEntries(
			data.contacts.flatMap(({ pin, expected }): [string, FaceContact][] =>
				expected
					? [
							[
								pin,
								{
									text: expected.overload ? 'OL' : expected.centre.toFixed(3),
									shape: expected.grade === 'verified' ? '●' : '◌',
									tone: expected.grade === 'verified' ? 'text-agrees' : 'text-low'
								}
							]
						]
					: []
			)
		)
	);
</script>

<svelte:head><title>Known good · Tavrek</title></svelte:head>

<div class="grid items-start gap-3 lg:grid-cols-[290px_minmax(0,1fr)]">
	<nav class="slip" aria-label="Models">
		<h1 class="mb-2">Known good</h1>
		<ul>
			{#each data.list as model (model.code)}
				<li>
					<a
						href="/known-good?model={model.code}"
						aria-current={model.code === data.chosen?.code ? 'true' : undefined}
						class="flex justify-between gap-2 border-b border-edge py-1 {model.code === data.chosen?.code
							? 'border-l-[5px] border-l-copper bg-wash pl-2 font-semibold'
							: ''}"
						><span>{model.label}</span><span class="figure text-sm text-ink-soft"
							>{model.readings || 'none'}</span
						></a
					>
				</li>
			{:else}
				<li class="text-ink-soft">No model yet. The counter adds one with the first device.</li>
			{/each}
		</ul>
	</nav>
	<section class="slip" aria-labelledby="chosen">
		<h2 id="chosen" class="mb-2 text-base text-ink">
			{data.chosen?.label ?? 'No model'}{data.connector ? `, ${data.connector.label}` : ''}
		</h2>
		{#if !data.connector}
			<p class="text-ink-soft">
				This model names no connector, so there are no contacts to compare. The manager adds it under
				Settings, Catalog.
			</p>
		{:else if Object.keys(faces).length === 0}
			<p class="mb-3 text-ink-soft">
				No known-good reading of this model yet. When a repaired device has passed every gate, read its
				contacts once more: the readings of stage “closing” of a device closed as fixed are taken over here by
				themselves, as verified.
			</p>
			<PortFace connector={data.connector} contacts={faces} {current} onpick={(pin) => (current = pin)} />
		{:else}
			<PortFace connector={data.connector} contacts={faces} {current} onpick={(pin) => (current = pin)} />
			<p class="mt-2 text-sm text-ink-soft">
				Diode mode, red probe on ground. <span class="text-agrees">●</span> verified: the device worked in
				full. <span class="text-low">◌</span> provisional: it had another fault.
			</p>
			<table class="ledger mt-2">
				<thead
					><tr
						><th>Contact</th><th>Net</th><th class="num">Centre</th><th class="num">From</th><th class="num"
							>To</th
						><th class="num">Boards</th><th>Grade</th></tr
					></thead
				>
				<tbody>
					{#each data.contacts as { pin, net, expected } (pin)}
						<tr class={pin === current ? 'bg-wash' : ''}>
							<td class="figure">{pin}</td>
							<td class="figure text-ink-soft">{net}</td>
							{#if expected}
								<td class="num">{expected.overload ? 'OL' : expected.centre.toFixed(3)}</td>
								<td class="num">{expected.overload ? '' : expected.low.toFixed(3)}</td>
								<td class="num">{expected.overload ? '' : expected.high.toFixed(3)}</td>
								<td class="num">{expected.from}</td>
								<td>{expected.grade}</td>
							{:else}<td class="text-ink-soft" colspan="5">none yet</td>{/if}
						</tr>
					{/each}
				</tbody>
			</table>
		{/if}
	</section>
</div>
