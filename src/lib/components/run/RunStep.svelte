<script lang="ts">
	import { SETTLE_SECONDS } from '$lib/core/bench/heat';
	import { countdownWords } from '$lib/core/bench/wait-calls';
	import { gateFinding } from '$lib/core/tickets/gate-finding';
	import Field from '../ui/Field.svelte';
	import { useDesk } from '../ticket/desk.svelte';
	import { useWaits } from '../ui/wait-board.svelte';
	import type { CausesOfOperation } from '$lib/server/returns/causes-at-steps';
	import type { RunBoard } from './run-board.svelte';
	import { settingsOf, STEP_LOOK } from './step-words';

	/** The one step that is at hand, large enough to be read from the microscope, and the keys that move it. */
	let {
		board,
		stationLabel,
		cameBack,
		code
	}: {
		board: RunBoard;
		stationLabel: (code: string) => string;
		/** why jobs of this operation came back */
		cameBack: CausesOfOperation | null;
		/** of the procedure */
		code: string;
	} = $props();
	/** what came back because of this very step; at the first step what came back at all */
	const known = $derived(
		cameBack === null
			? []
			: (cameBack.steps[`${code} ${board.at}`] ?? (board.at === 0 ? cameBack.causes.slice(0, 3) : []))
	);
	const desk = useDesk();
	const waits = useWaits();
	const step = $derived(board.step);
	const look = $derived(step ? STEP_LOOK[step.kind] : null);
	const gate = $derived(desk.gates.find(({ code }) => code === step?.gate));
	const shown = $derived(gate ? gateFinding(gate, desk.ticket, desk.view) : null);
	/** what is to be read with the old port off may be left out for a reason; whatever else must be answered may not */
	const mayLeave = $derived(board.doing === 'step' && (!step?.must || desk.view.stageOfRun !== null));
	let leaving = $state(false);
	let why = $state('');
	const until = $derived(board.wait?.until);
	const words = $derived(
		{
			begin: 'Begin',
			'go-on': 'Continue here',
			'end-wait':
				until !== undefined && until > waits.now
					? 'End the wait early and continue'
					: 'End the wait and continue',
			step:
				step?.kind === 'gate'
					? 'Passed'
					: step?.kind === 'wait'
						? 'Start the wait'
						: step?.kind === 'caution'
							? 'Confirmed'
							: 'Done',
			end: ''
		}[board.doing]
	);
	async function leaveOut(event: SubmitEvent) {
		event.preventDefault();
		if (!why.trim()) return;
		await board.leaveOut(why.trim());
		why = '';
		leaving = false;
	}
	export const startLeaving = () => {
		if (mayLeave) leaving = true;
	};
</script>

<section class="slip p-5 lg:min-h-[calc(100vh-165px)]" aria-label="Current step" aria-live="polite">
	{#if board.wait}
		<p class="text-lg text-low">
			<span aria-hidden="true">◔</span>
			{board.wait.note ?? `Waits for ${board.wait.for}`}
		</p>
		<p class="figure my-4 text-5xl">{until === undefined ? '' : countdownWords(until, waits.now)}</p>
		<p class="text-ink-soft">You can do other work. Every page tells you when the time is over.</p>
	{/if}
	{#if step && look}
		<p class="{board.wait ? 'mt-4 border-t border-edge pt-3' : ''} text-lg {look.tone}">
			<span aria-hidden="true">{look.mark}</span>
			{look.word}
			<span class="text-ink-soft"
				>· {board.wait ? 'then step' : 'step'} <span class="figure">{board.at + 1}</span> of
				<span class="figure">{board.steps.length}</span>{step.must ? ' · must be answered' : ''}</span
			>
		</p>
		<p class="my-3 {board.wait ? 'text-xl' : 'text-[1.9rem]'} leading-snug font-semibold">{step.says}</p>
		{#if settingsOf(step, stationLabel).length > 0}
			<ul class="flex flex-wrap gap-x-5 gap-y-1 text-xl">
				{#each settingsOf(step, stationLabel) as setting (setting)}<li class="figure">{setting}</li>{/each}
			</ul>
		{/if}
		{#if step.protects}<p class="mt-2 text-lg">Protects: {step.protects}</p>{/if}
		{#each known as { label, comebacks } (label)}
			<p class="mt-2 border-l-[5px] border-low bg-paper-2 px-2.5 py-1 text-lg">
				▽ {label}: {comebacks} of {cameBack?.comebacks} comebacks of this work.
			</p>
		{/each}
		{#if step.kind === 'heat'}
			<p class="mt-2 text-ink-soft">
				Let the station settle {SETTLE_SECONDS} s. Press Space when heat meets the board and again when it leaves.
				The part maker’s profile comes first.
			</p>
		{/if}
		{#if shown && board.doing === 'step'}
			<p
				class="mt-2 text-lg {shown.passed === true
					? 'text-agrees'
					: shown.passed === false
						? 'text-short'
						: 'text-ink-soft'}"
			>
				{shown.passed === true ? '● measured: ' : shown.passed === false ? '▼ measured: ' : '· '}{shown.words}
			</p>
		{/if}
		{#if board.left !== null}
			<p class="mt-2 text-lg text-low">
				<span aria-hidden="true">▽</span>
				Still {board.left}. Enter it, or skip the step and give a reason.
			</p>
		{/if}
		{#if step.kind === 'measure' || (step.kind === 'gate' && gate?.shownBy)}
			<p class="mt-2">
				<a class="link" href="/tickets/{desk.view.ticket.number}">Enter readings on the ticket</a>
			</p>
		{/if}
	{/if}
	{#if board.doing !== 'end'}
		<div class="mt-6 flex flex-wrap gap-2">
			<button
				class="btn btn-copper min-h-12 px-6 text-lg"
				disabled={board.busy || board.left !== null || !desk.may('step')}
				onclick={() => board.next()}>{words} <span class="key">Enter</span></button
			>
			{#if board.doing === 'step' && step?.kind === 'gate'}
				<button class="btn min-h-12 text-lg" disabled={board.busy} onclick={() => board.next(false)}
					>Failed <span class="key">F</span></button
				>
			{/if}
			{#if mayLeave}
				<button class="btn min-h-12" onclick={() => (leaving = true)}>Skip <span class="key">S</span></button>
			{/if}
		</div>
	{/if}
	{#if leaving}
		<form class="mt-3 flex flex-wrap items-end gap-2" onsubmit={leaveOut}>
			<Field
				id="why-out"
				label="Reason for skipping"
				maxlength={500}
				bind:value={why}
				autofocus
				class="min-w-60 flex-1"
			/>
			<button class="btn">Skip the step</button>
			<button type="button" class="link" onclick={() => (leaving = false)}>back</button>
		</form>
	{/if}
	{#if board.at > 0}
		<details class="mt-8 border-t border-edge pt-2 text-ink-soft" open={board.at <= 8}>
			<summary>Answered</summary>
			<ol class="mt-1 text-[0.93rem]">
				{#each board.answered as { step: done, entry }, i (i)}
					<li>
						<span aria-hidden="true">{entry.did === 'skipped' ? '○' : '●'}</span>
						{done.says}{entry.did === 'skipped'
							? `, skipped: ${entry.why ?? ''}`
							: ''}{#if entry.minutes !== undefined}<span class="figure text-sm"
								>&ensp;{entry.minutes} min</span
							>{/if}
					</li>
				{/each}
			</ol>
		</details>
	{/if}
</section>
