<script lang="ts">
	import { nounFor } from '$lib/core/units/noun';
	import { formatReading, parseTypedReading } from '$lib/core/readings/typed-reading';
	import type { PinWalk } from './pin-walk.svelte';

	/** The strip that says where the probe goes, what is expected there, and takes what the number pad types. */
	let { walk, steadyFrom }: { walk: PinWalk; steadyFrom: number } = $props();
	const id = $props.id();
	let typed = $state('');
	let note = $state('');
	let problem = $state('');
	let field = $state<HTMLInputElement>();
	const current = $derived(walk.current);
	const expected = $derived(current ? (walk.expected[`${current.pin} ${walk.mode}`] ?? null) : null);
	const shownTyped = $derived(parseTypedReading(typed));
	const UNIT = { diode: '', ohms: 'Ω', volts: 'V' };

	export function focus() {
		field?.focus();
	}
	function take(shown: Parameters<PinWalk['take']>[0]) {
		const written = note;
		problem = typed = note = '';
		field?.focus();
		walk.take(shown, written);
	}
	/** The number pad alone: digits, Enter; * overload, / short, - back. With nothing typed, arrows walk too. */
	function keys(event: KeyboardEvent) {
		const arrow =
			typed === '' ? { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key] : undefined;
		if (arrow) {
			walk.move(arrow);
			event.preventDefault();
			return;
		}
		if (event.key === '*') take({ overload: true });
		else if (event.key === '/') take({ value: 0 });
		else if (event.key === '-') walk.move(-1);
		else if (event.key === 'Enter') {
			const shown = parseTypedReading(typed);
			if (shown) take(shown);
			else
				problem =
					typed === ''
						? 'Type the digits, then Enter: 468 means 0.468'
						: `“${typed}” is not a reading: 468 means 0.468, 1204 means 1.204`;
		} else return;
		event.preventDefault();
		if (event.key === '-') typed = '';
	}
</script>

{#if current}
	<div
		class="mt-2 grid grid-cols-[auto_1fr] items-center gap-x-5 gap-y-1 border-l-[5px] border-copper bg-wash px-4 py-2 sm:grid-cols-[auto_auto_1fr_auto]"
	>
		<div class="leading-tight">
			<span class="text-sm text-ink-soft">Black probe on</span>
			<p class="figure text-[1.9rem] font-semibold">{current.label ?? current.pin}</p>
			<span class="text-ink-soft {current.label ? 'text-sm' : 'figure'}">{current.net}</span>
		</div>
		<div>
			<input
				bind:this={field}
				bind:value={typed}
				onkeydown={keys}
				class="figure w-36 border-b-[3px] border-copper bg-transparent text-[2.2rem] leading-none outline-none"
				aria-label="Reading of {current.label ?? current.pin}, {walk.mode === 'diode'
					? 'diode mode'
					: walk.mode}"
				aria-describedby="{id}-problem"
				inputmode="numeric"
				autocomplete="off"
				placeholder="0.000"
			/>
			<p class="figure h-5 text-sm text-ink-soft">
				{shownTyped && typed ? `= ${formatReading(shownTyped)} ${UNIT[walk.mode]}` : ''}
			</p>
		</div>
		<div class="leading-snug">
			{#if expected}
				expected <span class="figure"
					>{expected.overload
						? 'OL'
						: `${expected.centre.toFixed(3)} ± ${(expected.high - expected.centre).toFixed(3)}`}</span
				>
				<span
					class="block text-sm {expected.grade === 'provisional'
						? 'font-semibold text-low'
						: 'text-ink-soft'}"
					>from <span class="figure">{expected.from}</span>
					{expected.from === 1 ? 'board' : 'boards'}, {expected.grade}{expected.grade === 'provisional'
						? ': a board with another fault'
						: expected.from < steadyFrom
							? '; wide with few boards'
							: ''}</span
				>
				{#each expected.corrected ?? [] as { meter, factor, contacts } (meter)}
					<span class="block text-sm text-ink-soft"
						>{meter} converted to this meter: × <span class="figure">{factor.toFixed(3)}</span>, {contacts}
						{nounFor(contacts, 'contact')}</span
					>
				{/each}
				{#if expected.uncorrected}
					<span class="block text-sm text-low">{expected.uncorrected.join(', ')}: not comparable yet</span>
				{/if}
			{:else if current.net === 'gnd'}reads ground<span class="block text-sm text-ink-soft">near 0.000</span>
			{:else}{current.hint ?? 'no known-good reading yet'}{/if}
		</div>
		<ul class="text-sm leading-relaxed">
			<li>next <span class="key">Enter</span> OL <span class="key">*</span></li>
			<li>short <span class="key">/</span> back <span class="key">−</span></li>
		</ul>
		{#if walk.takesNotes}
			<label class="col-span-full flex items-center gap-2 text-sm text-ink-soft"
				>note <input
					class="field max-w-md py-0.5"
					bind:value={note}
					maxlength="500"
					autocomplete="off"
					placeholder="note on the board: 0.61 = this chip"
				/></label
			>
		{/if}
		<p id="{id}-problem" role="alert" class="col-span-full text-sm font-semibold text-short empty:hidden">
			{problem}
		</p>
	</div>
{/if}
