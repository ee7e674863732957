<script lang="ts">
	import { nounFor } from '$lib/core/units/noun';
	import Field from '$lib/components/ui/Field.svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import AddReference from '$lib/components/known-good/AddReference.svelte';
	import LeanedOn from '$lib/components/known-good/LeanedOn.svelte';
	import ReadingList from '$lib/components/known-good/ReadingList.svelte';
	import SignatureList from '$lib/components/known-good/SignatureList.svelte';
	import PortFace, { type FaceContact } from '$lib/components/ticket/PortFace.svelte';
	import { MODES } from '$lib/core/units/probed-place';
	let { data, form } = $props();
	let current = $state<string | null>(null);
	/** the counter looks things up; readings are the bench's to add and withdraw */
	const bench = $derived(data.user.role !== 'counter');
	const MODE_WORDS = {
		diode: 'Diode mode, red probe on ground.',
		ohms: 'Ohms to ground.',
		volts: 'Volts, powered.'
	};
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
	const corrected = $derived(data.contacts.flatMap(({ expected }) => expected?.corrected ?? [])[0]);
	const uncorrected = $derived([
		...new Set(data.contacts.flatMap(({ expected }) => expected?.uncorrected ?? []))
	]);
	function choose(name: string, value: string) {
		const to = new URL(page.url);
		if (value) to.searchParams.set(name, value);
		else to.searchParams.delete(name);
		to.searchParams.delete('withdrawn');
		void goto(to, { keepFocus: true, noScroll: true });
	}
</script>

<svelte:head><title>Known good · Tavrek</title></svelte:head>

<div class="grid items-start gap-3 lg:grid-cols-[250px_minmax(0,1fr)]">
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
	<div class="grid gap-3">
		{#if data.leaned}<LeanedOn leaned={data.leaned} />{/if}
		<section class="slip" aria-labelledby="chosen">
			<div class="mb-2 flex flex-wrap items-end gap-x-4 gap-y-1">
				<h2 id="chosen" class="flex-1 text-base text-ink">
					{data.chosen?.label ?? 'No model'}{data.connector ? `, ${data.connector.label}` : ''}
				</h2>
				{#if data.connector}
					<Field
						id="mode"
						label="Mode"
						look="w-auto"
						value={data.mode}
						onchange={(e) => choose('mode', e.currentTarget.value)}
						select
					>
						{#each MODES as mode (mode)}<option>{mode}</option>{/each}
					</Field>
					<Field
						id="meter"
						label="Read by"
						look="w-auto"
						value={data.meter}
						onchange={(e) => choose('meter', e.currentTarget.value)}
						select
					>
						<option value="">any meter</option>
						{#each data.meters as meter (meter)}<option>{meter}</option>{/each}
					</Field>
					<Field
						id="board"
						label="Board"
						look="w-auto"
						value={data.board}
						onchange={(e) => choose('board', e.currentTarget.value)}
						select
					>
						<option value="">any revision</option>
						{#each data.boards as board (board)}<option>{board}</option>{/each}
					</Field>
				{/if}
			</div>
			{#if !data.connector}
				<p class="text-ink-soft">
					This model has no connector yet, so there are no contacts to compare. A manager can add it under
					Settings, Catalog.
				</p>
			{:else}
				<PortFace connector={data.connector} contacts={faces} {current} onpick={(pin) => (current = pin)} />
				{#if Object.keys(faces).length === 0}
					<p class="mt-2 text-ink-soft">
						No known-good reading in this mode yet. Read a repaired device again when it has passed every
						final check: those readings become known good, verified. Until then a board with another fault can
						be used: “Keep as provisional” on its ticket.
					</p>
				{:else}
					<p class="mt-2 text-sm text-ink-soft">
						{MODE_WORDS[data.mode]} <span class="text-agrees">●</span> verified: the device worked fully.
						<span class="text-low">◌</span> provisional: the board had another fault. The tolerance is wider
						with few boards; from about <span class="figure">{data.steadyFrom}</span> boards on it hardly changes.
					</p>
					{#if corrected}
						<p class="mt-1 text-sm">
							Readings of {corrected.meter} are shown as {data.meter} would read them: multiplied by
							<span class="figure">{corrected.factor.toFixed(3)}</span>, from
							<span class="figure">{corrected.contacts}</span> contacts that both meters have read.
						</p>
					{/if}
					{#if uncorrected.length > 0}
						<p class="mt-1 text-sm font-semibold text-low">
							{uncorrected.join(', ')} and {data.meter} share too few contacts: their readings are not converted.
						</p>
					{/if}
				{/if}
			{/if}
		</section>
		{#if data.connector}
			<div class="grid items-start gap-3 xl:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
				<section class="slip overflow-x-auto" aria-label="Contact by contact">
					<h2 class="mb-1 text-ink">Contact by contact</h2>
					<table class="ledger">
						<thead
							><tr
								><th>Contact</th><th>Net</th><th class="num">Centre</th><th class="num">From</th><th
									class="num">To</th
								><th class="num">Boards</th><th>Grade</th></tr
							></thead
						>
						<tbody>
							{#each data.contacts as { pin, net, expected } (pin)}
								<tr class={pin === current ? 'bg-wash' : ''}>
									<td class="figure"><button class="link" onclick={() => (current = pin)}>{pin}</button></td>
									<td class="figure text-ink-soft">{net}</td>
									{#if expected}
										<td class="num">{expected.overload ? 'OL' : expected.centre.toFixed(3)}</td>
										<td class="num">{expected.overload ? '' : expected.low.toFixed(3)}</td>
										<td class="num">{expected.overload ? '' : expected.high.toFixed(3)}</td>
										<td class="num">{expected.from}{expected.sisters > 0 ? ` +${expected.sisters}` : ''}</td>
										<td>{expected.grade}</td>
									{:else}<td class="text-ink-soft" colspan="5">none yet</td>{/if}
								</tr>
							{/each}
						</tbody>
					</table>
					{#if data.contacts.some(({ expected }) => expected && expected.sisters > 0)}
						<p class="mt-1 text-sm text-ink-soft">
							“+2”: two similar models or board revisions support the centre value.
						</p>
					{/if}
				</section>
				<div class="grid gap-3">
					{#if data.signatures}<SignatureList
							signatures={data.signatures}
							label={data.chosen?.label ?? ''}
							connector={data.connector.label}
						/>{/if}
					<ReadingList
						{bench}
						readings={data.readings.filter(({ reference }) => current === null || reference.pin === current)}
						{current}
						{form}
					/>
					{#if bench}<AddReference
							pins={data.connector.pins.map(({ pin }) => pin)}
							{current}
							mode={data.mode}
							meters={data.meters}
							model={data.chosen?.code ?? ''}
							{form}
						/>{/if}
					{#if data.factors.length > 0}
						<section class="slip" aria-label="Meters">
							<h2 class="mb-1 text-ink">Meter differences</h2>
							<ul class="text-sm">
								{#each data.factors.filter(({ from, to }) => from < to) as { from, to, factor, low, high, contacts } (from + to)}
									<li>
										{to} reads <span class="figure">{factor.toFixed(3)}</span> times {from}
										<span class="figure text-ink-soft"
											>({low.toFixed(3)} to {high.toFixed(3)}, {contacts}
											{nounFor(contacts, 'contact')})</span
										>
									</li>
								{/each}
							</ul>
						</section>
					{/if}
				</div>
			</div>
		{/if}
	</div>
</div>
