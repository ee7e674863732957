<script lang="ts">
	import { keyToAction } from '$lib/components/ui/key-to-action';
	import { untrack } from 'svelte';
	import HeatGauge from '$lib/components/run/HeatGauge.svelte';
	import { RunBoard } from '$lib/components/run/run-board.svelte';
	import RunEnd from '$lib/components/run/RunEnd.svelte';
	import RunPicker from '$lib/components/run/RunPicker.svelte';
	import RunStep from '$lib/components/run/RunStep.svelte';
	import { STEP_LOOK } from '$lib/components/run/step-words';
	import { openDesk } from '$lib/components/ticket/open-desk.svelte';
	import HandOver from '$lib/components/ticket/HandOver.svelte';
	import HeldBack from '$lib/components/ticket/HeldBack.svelte';
	import WhichTimer from '$lib/components/ticket/WhichTimer.svelte';
	import Field from '$lib/components/ui/Field.svelte';
	import { useWaits } from '$lib/components/ui/wait-board.svelte';
	import { heatOnBoard } from '$lib/core/bench/heat';

	let { data } = $props();
	const desk = openDesk(
		() => data.view,
		untrack(() => data.user.role)
	);
	const waits = useWaits();
	const board = new RunBoard(
		desk,
		() => data.followed,
		untrack(
			() => data.user.technician ?? data.view.ticket.assignedTo ?? data.bench.technicians[0]?.code ?? ''
		)
	);
	// what ended is not followed any more: back to the ticket's other steps
	const heat = $derived(heatOnBoard(desk.ticket.heat, waits.now, desk.view.heatBefore));
	const stationLabel = (code: string) =>
		data.stations.find((station) => station.code === code)?.label ?? code;
	const advised = $derived(
		desk.view.plan.steps.filter(({ kind }) => kind === 'operation').map(({ code }) => code)
	);
	let handing = $state(false);
	let ending = $state(false);
	let stepCard = $state<RunStep>();

	function switchHeat() {
		const on = heat.onSince !== null;
		void desk.send({
			verb: 'heat',
			on: !on,
			...(on ? { seconds: Math.max(0, Math.round((waits.exactly() - (heat.onSince ?? 0)) / 1000)) } : {})
		});
	}
	function keys(event: KeyboardEvent) {
		const action = keyToAction(KEYS, event);
		if (action === null || event.repeat || !data.followed) return;
		// a button that has the focus is pressed by its own keys
		const { tagName } = event.target as HTMLElement;
		if ((action === 'heat' || action === 'next') && (tagName === 'BUTTON' || tagName === 'A')) return;
		if (action === 'heat' || action === 'next' || action === 'leave-out') event.preventDefault();
		if (action === 'heat') switchHeat();
		if (action === 'next') void board.next();
		if (action === 'failed' && board.doing === 'step' && board.step?.kind === 'gate') void board.next(false);
		if (action === 'leave-out') stepCard?.startLeaving();
		if (action === 'hand-over') handing = true;
		if (action === 'end' && board.run) ending = true;
	}
	const KEYS = {
		' ': 'heat',
		Enter: 'next',
		f: 'failed',
		s: 'leave-out',
		h: 'hand-over',
		e: 'end'
	} as const;
	const coming = $derived(board.steps.slice(board.at + 1, board.at + 6));
	const over = $derived(board.run !== null && board.doing === 'end');
	$effect(() => {
		if (!board.run) ending = false;
	});
	const lastRun = $derived(desk.ticket.steps.at(-1)?.did === 'ended');
</script>

<svelte:window onkeydown={keys} />
<svelte:head
	><title>{data.followed?.label ?? 'Procedures'} · {data.view.ticket.number} · Tavrek</title></svelte:head
>

<div class="slip mb-3 flex flex-wrap items-center gap-x-5 gap-y-2">
	<h1 class="min-w-60 flex-1">
		<a class="figure hover:underline" href="/tickets/{data.view.ticket.number}">{data.view.ticket.number}</a>
		{desk.view.modelLabel}
		{#if data.followed}<span class="block text-base font-semibold text-ink-soft"
				>{data.followed.label}{data.followed.school ? `, ${data.followed.school}` : ''}, version
				<span class="figure">{data.followed.version}</span></span
			>{/if}
	</h1>
	<Field id="run-hands" label="Technician" bind:value={board.technician} select class="w-40">
		{#each data.bench.technicians as { code, name } (code)}<option value={code}>{name}</option>{/each}
	</Field>
	<button class="btn" onclick={() => (handing = true)}>Pass on <span class="key">H</span></button>
	{#if board.run}<button class="btn" onclick={() => (ending = true)}
			>Stop early <span class="key">E</span></button
		>{/if}
	<a class="btn" href="/tickets/{data.view.ticket.number}">Ticket</a>
</div>
<HeldBack />
<WhichTimer bench={data.bench} />
{#if !data.followed || (lastRun && !board.run)}
	{#if lastRun && !board.run}
		<p class="slip mb-3" role="status">
			The procedure is finished. Its minutes are logged. <a
				class="link"
				href="/tickets/{data.view.ticket.number}">Back to the ticket</a
			>
		</p>
	{/if}
	<RunPicker procedures={data.procedures} {advised} number={data.view.ticket.number} />
{:else}
	<div class="grid items-start gap-3 lg:grid-cols-[minmax(0,1fr)_330px]">
		<div>
			{#if over}
				<RunEnd {board} early={false} onback={() => {}} />
			{:else}
				<RunStep
					bind:this={stepCard}
					{board}
					{stationLabel}
					cameBack={data.cameBack}
					code={data.followed?.code ?? ''}
				/>
				{#if ending}<RunEnd {board} early={true} onback={() => (ending = false)} />{/if}
			{/if}
		</div>
		<div class="grid gap-3">
			<HeatGauge {heat} now={waits.now} open={desk.may('heat')} onswitch={switchHeat} />
			<section class="slip" aria-label="Next steps">
				<h2>Then</h2>
				<ol>
					{#each coming as step, i (board.at + 1 + i)}
						<li class="border-b border-edge py-1 leading-snug last:border-b-0">
							<span class={STEP_LOOK[step.kind].tone} aria-hidden="true">{STEP_LOOK[step.kind].mark}</span>
							<span class="sr-only"
								>{STEP_LOOK[step.kind].word}:
							</span>{step.says}{#if step.minutes !== undefined}<span
									class="figure text-sm whitespace-nowrap text-ink-soft">&ensp;{step.minutes} min</span
								>{/if}
						</li>
					{:else}
						<li class="text-ink-soft">
							{board.step ? 'This is the last step.' : 'Nothing: every step is answered.'}
						</li>
					{/each}
				</ol>
				{#if board.at > 0}
					<p class="mt-2 text-sm text-ink-soft">
						<span class="figure">{board.at}</span> of <span class="figure">{board.steps.length}</span> answered
					</p>
				{/if}
			</section>
		</div>
	</div>
{/if}
<HandOver bind:open={handing} bench={data.bench} />
