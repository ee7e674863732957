<script lang="ts">
	import { untrack } from 'svelte';
	import { formatReading, parseTypedReading } from '$lib/core/readings/typed-reading';
	import { judgeReading, type Shown } from '$lib/core/readings/verdict';
	import type { Stage } from '$lib/core/tickets/ticket-record';
	import { useDesk } from './desk.svelte';
	import PortFace, { type FaceContact } from './PortFace.svelte';
	import { VERDICT_LOOK } from './verdict-look';

	const desk = useDesk();
	const ticket = $derived(desk.view.ticket);
	const connector = $derived(desk.view.connector);
	const open = $derived(ticket.closedAt === null);
	const pins = $derived(connector?.pins ?? []);
	let stage = $state<Stage>(desk.view.ticket.attempts.length > 0 ? 'after-repair' : 'diagnosis');
	let typed = $state('');
	let problem = $state('');
	let field = $state<HTMLInputElement>();
	/** entered and on their way: shown and judged at once, before the server answers */
	let pending = $state.raw<Record<string, Shown>>({});

	const stored = $derived(
		Object.fromEntries(
			ticket.readings
				.filter((reading) => reading.stage === stage && reading.mode === 'diode')
				.map((reading) => [reading.pin, reading as Shown])
		)
	);
	const taken = $derived<Record<string, Shown>>({ ...stored, ...pending });
	let position = $state(0);
	/** The walk starts at the first contact that this stage has not read; later it goes where the hands go. */
	function startWalk() {
		const first = pins.findIndex(({ pin }) => stored[pin] === undefined);
		position = first < 0 ? 0 : first;
	}
	untrack(startWalk);
	const current = $derived(pins[position]);
	const expected = $derived(current ? (desk.view.expected[current.pin] ?? null) : null);

	const judged = $derived(
		pins.flatMap(({ pin, net }) => {
			const shown = taken[pin];
			if (!shown) return [];
			const expected = desk.view.expected[pin] ?? null;
			return [{ pin, net, shown, expected, ...judgeReading(shown, 'diode', net, expected) }];
		})
	);
	const contacts = $derived(
		Object.fromEntries(
			judged.map(({ pin, shown, verdict }): [string, FaceContact] => [
				pin,
				{
					text: formatReading(shown),
					shape: VERDICT_LOOK[verdict].shape,
					tone: VERDICT_LOOK[verdict].text,
					filled: verdict === 'short',
					dashed: verdict === 'open'
				}
			])
		)
	);
	const SEVERITY = ['short', 'open', 'low', 'high', 'no-reference', 'agrees'];
	const rows = $derived(
		[...judged].sort((a, b) => SEVERITY.indexOf(a.verdict) - SEVERITY.indexOf(b.verdict))
	);
	const findings = $derived(desk.view.findings);

	async function take(shown: Shown) {
		const contact = current;
		if (!contact || !open) return;
		problem = typed = '';
		pending = { ...pending, [contact.pin]: shown };
		position = Math.min(position + 1, pins.length - 1);
		field?.focus();
		const sent = await desk.send({
			verb: 'read-pins',
			stage,
			mode: 'diode',
			readings: [{ pin: contact.pin, ...shown }]
		});
		if (!sent) return;
		const { [contact.pin]: _, ...others } = pending;
		pending = others;
	}

	/** The number pad alone: digits, Enter; * overload, / short, - back. With nothing typed, arrows walk too. */
	function keys(event: KeyboardEvent) {
		const arrow =
			typed === '' ? { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key] : undefined;
		if (arrow) {
			position = Math.min(pins.length - 1, Math.max(0, position + arrow));
			event.preventDefault();
			return;
		}
		if (event.key === '*') void take({ overload: true });
		else if (event.key === '/') void take({ value: 0 });
		else if (event.key === '-') position = Math.max(0, position - 1);
		else if (event.key === 'Enter') {
			const shown = parseTypedReading(typed);
			if (shown) void take(shown);
			else
				problem =
					typed === ''
						? 'Type the digits, then Enter: 468 is 0.468'
						: `“${typed}” is no reading: 468 is 0.468, 1204 is 1.204`;
		} else return;
		event.preventDefault();
		if (event.key === '-') typed = '';
	}
	const shownTyped = $derived(parseTypedReading(typed));
</script>

{#if !connector}
	<p class="rounded border border-edge bg-paper-2 p-3">
		This model names no connector, so there are no contacts to read. The manager adds it under Settings,
		Catalog.
	</p>
{:else}
	<PortFace
		{connector}
		{contacts}
		current={current?.pin ?? null}
		onpick={(pin) => {
			position = pins.findIndex((contact) => contact.pin === pin);
			field?.focus();
		}}
	/>
	{#if open && current}
		<div
			class="mt-2 grid grid-cols-[auto_1fr] items-center gap-x-5 gap-y-1 border-l-[5px] border-copper bg-wash px-4 py-2.5 sm:grid-cols-[auto_auto_1fr_auto]"
		>
			<div class="leading-tight">
				<span class="text-sm text-ink-soft">Black probe on</span>
				<p class="figure text-[1.9rem] font-semibold">{current.pin}</p>
				<span class="figure text-ink-soft">{current.net}</span>
			</div>
			<div>
				<input
					bind:this={field}
					bind:value={typed}
					onkeydown={keys}
					class="figure w-36 border-b-[3px] border-copper bg-transparent text-[2.2rem] leading-none outline-none"
					aria-label="Reading of {current.pin}, diode mode"
					aria-describedby="pin-problem"
					inputmode="numeric"
					autocomplete="off"
					placeholder="0.000"
				/>
				<p class="figure h-5 text-sm text-ink-soft">
					{shownTyped && typed ? `= ${formatReading(shownTyped)}` : ''}
				</p>
			</div>
			<div class="leading-snug">
				{#if expected}
					expected <span class="figure"
						>{expected.overload
							? 'OL'
							: `${expected.centre.toFixed(3)} ± ${(expected.high - expected.centre).toFixed(3)}`}</span
					>
					<span class="block text-sm text-ink-soft"
						>from <span class="figure">{expected.from}</span>
						{expected.from === 1 ? 'board' : 'boards'}, {expected.grade}</span
					>
				{:else if current.net === 'gnd'}reads ground<span class="block text-sm text-ink-soft">near 0.000</span
					>
				{:else}no known-good reading yet{/if}
			</div>
			<ul class="text-sm leading-relaxed">
				<li>next <span class="key">Enter</span> OL <span class="key">*</span></li>
				<li>short <span class="key">/</span> back <span class="key">−</span></li>
			</ul>
			<p id="pin-problem" role="alert" class="col-span-full text-sm font-semibold text-short">{problem}</p>
		</div>
	{/if}
	<div class="mt-1.5 flex items-center gap-3 text-sm text-ink-soft">
		<label for="pin-stage">Readings of</label>
		<select id="pin-stage" class="field w-auto" bind:value={stage} onchange={startWalk}>
			{#each ['intake', 'diagnosis', 'after-repair', 'closing'] as name (name)}<option value={name}
					>{name.replace('-', ' ')}</option
				>{/each}
		</select>
		<span
			>Diode mode, red probe on ground. <span class="figure">{judged.length}</span> of
			<span class="figure">{pins.length}</span> read.</span
		>
	</div>
	{#each findings as finding (finding.text)}
		<p class="mt-1.5 border-l-[5px] border-high bg-paper-2 px-3 py-1.5">{finding.text}.</p>
	{/each}
	{#if rows.length > 0}
		<div class="overflow-x-auto">
			<table class="ledger mt-2">
				<thead>
					<tr
						><th>Contact</th><th>Net</th><th class="num">Read</th><th class="num hidden sm:table-cell"
							>Known good</th
						><th class="num hidden sm:table-cell">Off by</th><th>Verdict</th></tr
					>
				</thead>
				<tbody>
					{#each rows as { pin, net, shown, expected, verdict, confidence } (pin)}
						<tr>
							<td class="figure">{pin}</td>
							<td class="figure text-ink-soft">{net}</td>
							<td class="num">{formatReading(shown)}</td>
							<td class="num hidden text-ink-soft sm:table-cell"
								>{expected ? (expected.overload ? 'OL' : expected.centre.toFixed(3)) : '–'}</td
							>
							<td class="num hidden sm:table-cell"
								>{expected && !expected.overload && shown.value !== undefined
									? `${shown.value >= expected.centre ? '+' : '−'}${Math.abs(shown.value - expected.centre).toFixed(3)}`
									: '–'}</td
							>
							<td class="font-semibold {VERDICT_LOOK[verdict].text}">
								<span aria-hidden="true">{VERDICT_LOOK[verdict].shape}</span>
								{VERDICT_LOOK[verdict].word}{#if confidence > 0 && expected}<span
										class="font-normal text-ink-soft"
										>{' · '}{Math.round(confidence * 100)} % sure, {expected.from} {expected.grade}</span
									>{/if}
							</td>
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
	{/if}
{/if}
