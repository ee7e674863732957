<script lang="ts">
	import { percent } from '$lib/core/units/percent';
	import { readNumberWithin } from '$lib/core/units/typed-number';
	import { judgeNode, NODE_WORDS, walkPath } from '$lib/core/charging/power-path';
	import type { NodeVerdict } from '$lib/core/units/seen-codes';
	import { useDesk } from './desk.svelte';

	/** The charging path as a line with measured volts: where the supply is lost, and which node to probe next. */
	const desk = useDesk();
	const ticket = $derived(desk.ticket);
	const open = $derived(desk.may('probe-node'));
	const path = $derived(desk.view.path);
	const stage = $derived(desk.stage);
	const late = $derived(stage === 'after-repair');
	/** measured and not confirmed yet */
	const waiting = $derived(
		new Map(
			ticket.path.filter((_, i) => desk.isWaiting('path', i)).map(({ node, volts }) => [node, volts] as const)
		)
	);
	const measured = $derived(new Map([...Object.entries(path?.measured ?? {}), ...waiting]));
	const finding = $derived(path?.finding ?? null);
	/** until the server has heard what was taken, the walk itself says which node tells most now */
	const next = $derived(
		(path && waiting.size > 0 ? walkPath(path.nodes, measured) : finding)?.next?.node ?? null
	);
	let picked = $state<string | null>(null);
	const current = $derived(path?.nodes.find(({ node }) => node === (picked ?? next)) ?? path?.nodes[0]);
	let typed = $state('');
	let problem = $state('');
	let field = $state<HTMLInputElement>();
	const LOOK: Record<NodeVerdict, { shape: string; text: string }> = {
		there: { shape: '●', text: 'text-agrees' },
		low: { shape: '▽', text: 'text-low' },
		lost: { shape: '◌', text: 'text-short' },
		high: { shape: '△', text: 'text-high' }
	};
	const label = (code: string | null) => path?.nodes.find(({ node }) => node === code)?.label ?? 'the supply';
	const best = $derived(finding?.breaks[0] ?? null);

	function probe(event: SubmitEvent) {
		event.preventDefault();
		const volts = readNumberWithin(typed, 0, 100);
		if (!current || volts === null) {
			problem = `Volts is “${typed}”; write a number such as 4.98`;
			return;
		}
		problem = '';
		void desk.send({ verb: 'probe-node', stage, node: current.node, volts });
		typed = '';
		picked = null;
		field?.focus();
	}
</script>

{#if path && finding && best}
	<section class="mb-4" aria-labelledby="power-path">
		<h2 id="power-path" class="text-ink">Power path{late ? ', after the repair' : ''}</h2>
		<ol class="path mt-1 flex overflow-x-auto pb-1">
			<li class="flex h-7 w-11 flex-none items-end justify-center text-[0.68rem] leading-none text-ink-soft">
				supply
			</li>
			{#each path.nodes as node, i (node.node)}
				{@const volts = measured.get(node.node)}
				{@const verdict = volts === undefined ? null : judgeNode(volts, node)}
				{@const lost = finding.breaks.find(({ to }) => to === node.node)?.chance ?? 0}
				<li class="relative min-w-[76px] flex-1 text-center">
					<div
						class="wire {lost >= 0.5 ? 'wire-lost' : ''}"
						style:border-top-width="{2 + Math.round(4 * lost)}px"
						aria-hidden="true"
					></div>
					<span
						class="flex h-7 items-end justify-center text-[0.68rem] leading-none text-ink-soft"
						title={node.through}>{node.through ?? ''}</span
					>
					<button
						type="button"
						class="node figure {node.node === current?.node && open ? 'node-here' : ''}"
						aria-label="{node.label}{volts === undefined
							? ', not measured'
							: `, ${volts.toFixed(2)} V, ${NODE_WORDS[verdict ?? 'there']}`}"
						aria-pressed={node.node === current?.node}
						onclick={() => {
							picked = node.node;
							field?.focus();
						}}
					>
						{#if verdict}<span class={LOOK[verdict].text}>{LOOK[verdict].shape}</span>{:else}<span
								class="text-ink-soft">{i + 1}</span
							>{/if}
					</button>
					<span class="figure block text-sm {verdict ? LOOK[verdict].text : 'text-ink-soft'}"
						>{volts === undefined ? '–' : volts.toFixed(2)}{#if waiting.has(node.node)}<span class="text-low"
								>… <span class="sr-only">not saved yet</span></span
							>{/if}</span
					>
					{#if lost >= 0.05}<span
							class="figure block text-[0.75rem] {lost >= 0.5 ? 'font-semibold text-short' : 'text-ink-soft'}"
							>{percent(lost)}</span
						>{/if}
				</li>
			{/each}
		</ol>
		<p class="mt-1">
			{#if measured.size === 0}
				Nothing measured yet. The chances come from the odds of the parts along the path.
			{:else if finding.whole >= 0.5}
				<span class="font-semibold text-agrees">● The path is intact</span>,
				<span class="figure">{percent(finding.whole)}</span>
				sure, from {measured.size}
				{measured.size === 1 ? 'node' : 'nodes'}.
			{:else}
				{best.chance >= 0.5 ? 'The supply is lost' : 'The supply is most likely lost'} between
				<b>{label(best.from)}</b>
				and <b>{label(best.to)}</b>{best.through ? ` (${best.through})` : ''},
				<span class="figure">{percent(best.chance)}</span>
				sure, from {measured.size}
				{measured.size === 1 ? 'node' : 'nodes'}.
			{/if}
		</p>
		{#if open && current}
			<form
				onsubmit={probe}
				class="mt-1.5 flex flex-wrap items-center gap-3 border-l-[5px] border-copper bg-wash px-3 py-2"
			>
				<div class="leading-snug">
					{#if current.node === next}<span class="text-sm text-ink-soft">Best next probe</span>{:else}<span
							class="text-sm text-ink-soft">Probe</span
						>{/if}
					<p class="font-semibold">{current.label}</p>
					<span class="text-sm text-ink-soft"
						>should read <span class="figure"
							>{current.volts.low.toFixed(1)}–{current.volts.high.toFixed(1)} V</span
						></span
					>
				</div>
				<label class="sr-only" for="node-volts">Volts at {current.label}</label>
				<input
					id="node-volts"
					bind:this={field}
					bind:value={typed}
					oninput={() => {
						// what is being typed belongs to the node that it was begun at
						picked ??= current?.node ?? null;
					}}
					class="field figure w-28 text-xl"
					inputmode="decimal"
					placeholder="V"
					autocomplete="off"
				/>
				<button class="btn">Record</button>
				<p role="alert" class="basis-full text-sm font-semibold text-short empty:hidden">{problem}</p>
			</form>
		{/if}
	</section>
{/if}

<style>
	.wire {
		position: absolute;
		top: 48px;
		left: -50%;
		width: 100%;
		border-top: 2px solid var(--edge-strong);
		z-index: 0;
	}
	.wire-lost {
		border-top-style: dashed;
		border-color: var(--short);
	}
	.node {
		position: relative;
		z-index: 1;
		display: block;
		width: 34px;
		height: 34px;
		margin: 3px auto;
		border: 2px solid var(--edge-strong);
		border-radius: 4px;
		background: var(--paper);
	}
	.node-here {
		border-color: var(--copper);
		outline: 2px solid var(--copper);
	}
</style>
