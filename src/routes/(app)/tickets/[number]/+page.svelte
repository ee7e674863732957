<script lang="ts">
	import { keyToAction } from '$lib/components/ui/key-to-action';
	import { onMount, untrack } from 'svelte';
	import { Tabs } from 'bits-ui';
	import { openDesk } from '$lib/components/ticket/open-desk.svelte';
	import HeldBack from '$lib/components/ticket/HeldBack.svelte';
	import NextStep from '$lib/components/ticket/NextStep.svelte';
	import OddsPanel from '$lib/components/ticket/OddsPanel.svelte';
	import PricePanel from '$lib/components/ticket/PricePanel.svelte';
	import TicketHead from '$lib/components/ticket/TicketHead.svelte';
	import Trail from '$lib/components/ticket/Trail.svelte';
	import type { StepView } from '$lib/core/diagnosis/plan/plan-view';
	import { loadPanel, PANEL_KEYS, type Panel, type PanelKey } from '$lib/components/ticket/panels';
	import { stepsOf } from '$lib/components/ticket/steps';

	let { data } = $props();
	const desk = openDesk(
		() => data.view,
		untrack(() => data.user.role)
	);
	// a moment after the last change: quick entry is not thought about key by key
	$effect(() => {
		const { version, ticket } = desk.view;
		if (ticket.closedAt !== null || version === 0) return;
		const stop = new AbortController();
		const soon = setTimeout(() => void desk.askPrice(stop.signal), 250);
		const later = setTimeout(() => void desk.thinkFurther(stop.signal), 600);
		return () => {
			clearTimeout(soon);
			clearTimeout(later);
			stop.abort();
		};
	});
	const steps = $derived(stepsOf(desk.ticket, desk.gates));
	let step = $state<string>(untrack(() => data.first.key));
	let panels = $state.raw<Partial<Record<PanelKey, Panel>>>(
		untrack(() => ({ [data.first.key]: data.first.panel }))
	);
	async function need(key: PanelKey) {
		if (panels[key]) return;
		// with the line away it is asked for again when its step is taken
		const panel = await loadPanel(key).catch(() => null);
		if (panel) panels = { ...panels, [key]: panel };
	}
	$effect(() => void need(step as PanelKey));
	/** The others follow when the page stands: the line may be away when the next step is taken. */
	const FOLLOW_MS = 4000;
	onMount(() => {
		const later = setTimeout(() => PANEL_KEYS.forEach((key) => void need(key)), FOLLOW_MS);
		return () => clearTimeout(later);
	});
	let picked = $state<string | null>(null);

	/** where a measurement is taken */
	const PLACES: Record<string, string> = {
		look: 'look',
		'plug-in': 'plug',
		battery: 'plug',
		wake: 'plug',
		'read-pins': 'pins',
		path: 'checks'
	};

	function start({ kind, code }: Pick<StepView, 'kind' | 'code'>) {
		if (kind === 'measure') step = PLACES[code] ?? step;
		if (kind === 'prove') step = 'prove';
		if (kind === 'give-up') step = 'close';
		if (kind !== 'test' && kind !== 'operation') return;
		picked = code;
		step = kind === 'test' ? 'checks' : 'repair';
	}
	/** steps that a key walks */
	const KEYS = { ',': -1, '<': -1, '.': 1, '>': 1 } as const;
	function keys(event: KeyboardEvent) {
		const walked = keyToAction(KEYS, event);
		if (walked === null) return;
		const to = steps[steps.findIndex(({ key }) => key === step) + walked];
		if (to) step = to.key;
	}
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>{desk.view.ticket.number} {desk.view.modelLabel} · Tavrek</title></svelte:head>

<TicketHead bench={data.bench} own={data.own} onclose={() => (step = 'close')} />
<HeldBack />
<div class="mt-2.5 grid items-start gap-2.5 lg:grid-cols-[238px_minmax(0,1fr)_minmax(290px,350px)]">
	<div class="order-3 grid lg:order-1 lg:min-h-[calc(100vh-160px)]"><Trail /></div>
	<div class="slip order-1 min-w-0 lg:order-2 lg:min-h-[calc(100vh-160px)]">
		<Tabs.Root bind:value={step} activationMode="manual">
			<Tabs.List class="walk mb-3 flex items-start overflow-x-auto" aria-label="Steps of the job">
				{#each steps as { key, label, done } (key)}
					<Tabs.Trigger
						value={key}
						onpointerenter={() => void need(key as PanelKey)}
						class="walk-step group relative flex-1 px-0.5 pt-1 pb-1 text-center text-[0.74rem] leading-tight sm:text-[0.87rem] sm:whitespace-nowrap"
					>
						<span class="rail {done ? 'rail-done' : ''}" aria-hidden="true"></span>
						<span class="knot {done ? 'knot-done' : ''} {key === step ? 'knot-here' : ''}" aria-hidden="true"
						></span>
						<span class={key === step ? 'font-bold' : 'text-ink-soft'}>{label}</span>{#if done}<span
								class="sr-only">, done</span
							>{/if}
					</Tabs.Trigger>
				{/each}
			</Tabs.List>
			{#each PANEL_KEYS as key (key)}
				{@const Panel = panels[key]}
				<Tabs.Content value={key}
					>{#if Panel}<Panel bench={data.bench} {picked} active={step === key} />{:else}<p
							class="text-ink-soft"
						>
							Loading this step…
						</p>{/if}</Tabs.Content
				>
			{/each}
		</Tabs.Root>
	</div>
	<div class="order-2 grid gap-2 lg:sticky lg:top-2 lg:order-3">
		<OddsPanel bench={data.bench} />
		<NextStep onstart={start} onclose={() => (step = 'close')} />
		<PricePanel />
	</div>
</div>

<style>
	:global(.walk-step) .rail {
		position: absolute;
		top: 13px;
		left: 0;
		right: 0;
		height: 3px;
		background: var(--edge-strong);
		opacity: 0.55;
	}
	:global(.walk-step) .rail-done {
		background: var(--ink);
		opacity: 1;
	}
	:global(.walk-step) .knot {
		position: relative;
		display: block;
		width: 15px;
		height: 15px;
		margin: 2px auto 5px;
		rotate: 45deg;
		border: 2px solid var(--edge-strong);
		background: var(--paper);
	}
	:global(.walk-step) .knot-done {
		border-color: var(--ink);
		background: var(--ink);
	}
	:global(.walk-step) .knot-here {
		border-color: var(--copper);
		background: var(--copper);
	}
</style>
