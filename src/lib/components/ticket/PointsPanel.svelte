<script lang="ts">
	import { BOARD_SIDES, sideOf, type BoardPoint, type BoardSide } from '$lib/core/catalog/kinds-of-devices';
	import { judgePoints, type PointVerdict } from '$lib/core/readings/board-points';
	import type { Mode } from '$lib/core/readings/reference';
	import { formatReading } from '$lib/core/readings/typed-reading';
	import { codeWords } from '$lib/core/units/code';
	import { groupBy } from '$lib/core/units/group-by';
	import { MODES, pointOf, pointPlace } from '$lib/core/units/probed-place';
	import { STAGES, type Stage } from '$lib/core/units/stage';
	import BoardFace from './BoardFace.svelte';
	import { useDesk } from './desk.svelte';
	import { PinWalk, type WalkedPlace } from './pin-walk.svelte';
	import PinEntry from './PinEntry.svelte';
	import { VERDICT_LOOK } from './verdict-look';

	/** The points of the board: the picture with the next one lit, read by the keys of the contacts, before and with the old port off, and after. */
	const desk = useDesk();
	const points = $derived(desk.view.about.points ?? []);
	const open = $derived(desk.may('read-pins'));

	const labelOf = (code: string) => points.find((point) => point.code === code)?.label ?? code;
	const GROUND_WORDS = {
		never: () => 'never at ground',
		normal: () => 'is ground',
		'one-side': ({ with: otherEnd }: BoardPoint) => `one end; ground only where ${otherEnd} is not`
	};
	const hintOf = (point: BoardPoint, mode: Mode): string => {
		const { expect: stated, ground } = point;
		const way = GROUND_WORDS[ground](point);
		return stated?.mode === mode ? `stated ${stated.low} to ${stated.high}; ${way}` : way;
	};
	function placesOf(stage: Stage, mode: Mode): WalkedPlace[] {
		return (
			points
				// what shows with the old port off alone is not read before
				.filter(({ when }) => when === undefined || (stage !== 'intake' && stage !== 'diagnosis'))
				.map((point) => ({
					pin: pointPlace(point.code),
					net: point.label,
					label: point.code,
					hint: hintOf(point, mode),
					...(point.side ? { side: point.side } : {})
				}))
		);
	}

	const walk = new PinWalk(desk, placesOf);
	let entry = $state<PinEntry>();

	const book = $derived({
		expected: (pin: string, mode: string) => walk.expected[`${pin} ${mode}`] ?? null
	});
	const verdicts = $derived(
		judgePoints(
			points,
			desk.ticket.readings.filter(({ stage }) => stage === walk.stage),
			book
		)
	);
	const LOOK: Record<PointVerdict, { word: string; shape: string; text: string }> = {
		...VERDICT_LOOK,
		agrees: { ...VERDICT_LOOK.agrees, word: 'good' },
		value: { ...VERDICT_LOOK['no-reference'], word: 'reads a value' }
	};
	const marks = $derived(
		Object.fromEntries(
			[...verdicts].map(([code, verdict]) => {
				const { shape, text, word } = LOOK[verdict];
				return [code, { shape, tone: text, says: word }];
			})
		)
	);
	/** by point, what it read at every stage, the latest last */
	const read = $derived(
		groupBy(
			desk.ticket.readings.flatMap(({ pin, stage, mode, note, ...shown }) => {
				const code = pointOf(pin);
				const unit = { diode: '', ohms: ' Ω', volts: ' V' }[mode];
				return code === null ? [] : [{ code, stage, note, text: `${formatReading(shown)}${unit}` }];
			}),
			({ code }) => code
		)
	);
	const latest = (code: string, ...stages: Stage[]) =>
		read.get(code)?.findLast(({ stage }) => stages.includes(stage))?.text ?? '–';
	const current = $derived(pointOf(walk.current?.pin ?? ''));
	const pictures = $derived(desk.view.about.pictures ?? {});
	const sides = $derived(
		BOARD_SIDES.filter(
			(side) => pictures[side] || points.some((point) => sideOf(point) === side && point.x !== undefined)
		)
	);
	let chosenSide = $state<BoardSide | null>(null);
	const sideOfCurrent = $derived(sideOf(points.find(({ code }) => code === current) ?? {}));
	const side = $derived(chosenSide ?? sideOfCurrent);
	function go(code: string) {
		walk.go(pointPlace(code));
		chosenSide = null;
		entry?.focus();
	}
</script>

<section class="mt-4 border-t border-edge pt-3" aria-labelledby="board-points">
	<div class="mb-1.5 flex flex-wrap items-baseline gap-x-4 gap-y-1">
		<h2 id="board-points" class="text-ink">Points of the board</h2>
		<span class="text-sm text-ink-soft"
			><span class="figure">{verdicts.size}</span> of <span class="figure">{walk.pins.length}</span> read</span
		>
		{#if sides.length > 1}
			<span class="flex gap-1.5">
				{#each sides as name (name)}
					<button
						type="button"
						class="btn btn-small"
						aria-pressed={name === side}
						onclick={() => (chosenSide = name)}>{name}</button
					>
				{/each}
			</span>
		{/if}
		<span class="ml-auto flex flex-wrap items-center gap-2 text-sm text-ink-soft">
			<label for="point-stage">Readings of</label>
			<select id="point-stage" class="field w-auto" bind:value={walk.stage} onchange={() => walk.start()}>
				{#each STAGES as name (name)}<option value={name}>{codeWords(name)}</option>{/each}
			</select>
			<label for="point-mode">in</label>
			<select id="point-mode" class="field w-auto" bind:value={walk.mode} onchange={() => walk.start()}>
				{#each MODES as name (name)}<option>{name}</option>{/each}
			</select>
		</span>
	</div>
	{#if sides.length > 0}
		<BoardFace
			{points}
			{side}
			picture={pictures[side] ? `/boards/${pictures[side]}` : null}
			{marks}
			{current}
			onpick={go}
		/>
	{/if}
	{#if open}<PinEntry bind:this={entry} {walk} steadyFrom={desk.view.steadyFrom} />{/if}
	<div class="overflow-x-auto">
		<table class="ledger mt-2">
			<thead
				><tr
					><th>Point</th><th>Where</th><th class="num">Before</th><th class="num">Port off</th><th class="num"
						>After</th
					><th>Verdict, {codeWords(walk.stage)}</th></tr
				></thead
			>
			<tbody>
				{#each points as point (point.code)}
					{@const verdict = verdicts.get(point.code)}
					{@const note = read.get(point.code)?.findLast(({ note }) => note)?.note}
					<tr class={point.code === current ? 'bg-wash' : ''}>
						<td
							><button type="button" class="link figure whitespace-nowrap" onclick={() => go(point.code)}
								>{point.code}</button
							></td
						>
						<td class="leading-snug"
							>{point.label}<span class="block text-sm text-ink-soft"
								>{[
									point.chip?.replaceAll('-', ' '),
									point.net,
									GROUND_WORDS[point.ground](point),
									point.when ? 'read with the old port off' : ''
								]
									.filter(Boolean)
									.join(' · ')}</span
							>{#if note}<span class="block text-sm">“{note}”</span>{/if}</td
						>
						<td class="num">{latest(point.code, 'intake', 'diagnosis')}</td>
						<td class="num">{latest(point.code, 'port-off')}</td>
						<td class="num">{latest(point.code, 'after-repair', 'closing')}</td>
						<td class="font-semibold whitespace-nowrap {verdict ? LOOK[verdict].text : 'text-ink-soft'}"
							>{#if verdict}<span aria-hidden="true">{LOOK[verdict].shape}</span>
								{LOOK[verdict].word}{:else}–{/if}</td
						>
					</tr>
				{/each}
			</tbody>
		</table>
	</div>
	{#if walk.stage === 'port-off'}
		<p class="mt-1 text-sm text-ink-soft">
			Read with the old port off: what is grounded now is not the port.
		</p>
	{/if}
	<p class="sr-only" role="status">{current ? `next ${current}, ${labelOf(current)}` : ''}</p>
</section>
