<script lang="ts">
	import ContinuityPanel from './ContinuityPanel.svelte';
	import { gateFinding } from '$lib/core/tickets/gate-finding';
	import { useDesk } from './desk.svelte';
	import SoakPanel from './SoakPanel.svelte';
	const desk = useDesk();
	const open = $derived(desk.may('gate'));
	const waiting = $derived(
		new Set(desk.waiting.flatMap(({ change }) => (change.verb === 'gate' ? [change.gate] : [])))
	);
	const groups = [
		{ when: 'before-sealing', title: 'Before sealing' },
		{ when: 'after-sealing', title: 'With the device closed' }
	] as const;
</script>

<p class="mb-2 text-ink-soft">
	Prove it before it leaves. A gate passed before the last repair is open again: that repair may have undone
	it.
</p>
{#if desk.gates.length === 0}<p class="text-ink-soft">
		The catalog has no gates; a fixed device can be closed at once.
	</p>{/if}
{#each groups as { when, title } (when)}
	{@const gates = desk.gates.filter((gate) => gate.when === when)}
	{#if gates.length > 0}
		<h2 class="mt-2">{title}</h2>
		<ul>
			{#each gates as gate (gate.code)}
				{@const shown = gateFinding(gate, desk.ticket, desk.view)}
				{@const against = shown?.passed != null && gate.passed !== null && shown.passed !== gate.passed}
				<li class="flex items-center gap-3 border-b border-edge py-1.5">
					<span class="flex-1 leading-snug"
						>{gate.label}{#if shown}<span
								class="block text-[0.87rem] {against
									? 'font-semibold text-short'
									: shown.passed === true
										? 'text-agrees'
										: shown.passed === false
											? 'text-short'
											: 'text-ink-soft'}"
								>{against
									? '▲ measured otherwise: '
									: shown.passed === null
										? '· '
										: shown.passed
											? '● measured: '
											: '▼ measured: '}{shown.words}{gate.passed === null && shown.passed !== null
									? `; answer ${shown.passed ? 'passed' : 'failed'}?`
									: ''}</span
							>{/if}</span
					>
					<span
						class="text-sm {gate.passed === true
							? 'text-agrees'
							: gate.passed === false
								? 'text-short'
								: 'text-ink-soft'}"
					>
						{gate.passed === true
							? '● passed'
							: gate.passed === false
								? '▼ failed'
								: '· not checked'}{waiting.has(gate.code) ? ', not saved yet …' : ''}
					</span>
					<button
						class="btn btn-small"
						disabled={!open}
						aria-pressed={gate.passed === true}
						onclick={() => desk.send({ verb: 'gate', gate: gate.code, passed: true })}
						>Passed<span class="sr-only">: {gate.label}</span></button
					>
					<button
						class="btn btn-small"
						disabled={!open}
						aria-pressed={gate.passed === false}
						onclick={() => desk.send({ verb: 'gate', gate: gate.code, passed: false })}
						>Failed<span class="sr-only">: {gate.label}</span></button
					>
				</li>
			{/each}
		</ul>
	{/if}
{/each}
<ContinuityPanel />
<SoakPanel />
