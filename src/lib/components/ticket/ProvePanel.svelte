<script lang="ts">
	import ContinuityPanel from './ContinuityPanel.svelte';
	import { gateFinding } from '$lib/core/tickets/gate-finding';
	import Field from '../ui/Field.svelte';
	import { useDesk } from './desk.svelte';
	import JointPanel from './JointPanel.svelte';
	import PhotosPanel from './PhotosPanel.svelte';
	import SoakPanel from './SoakPanel.svelte';
	import SupplyPanel from './SupplyPanel.svelte';
	let { active }: { active: boolean } = $props();
	const desk = useDesk();
	const open = $derived(desk.may('gate'));
	const waiting = $derived(
		new Set(desk.waiting.flatMap(({ change }) => (change.verb === 'gate' ? [change.gate] : [])))
	);
	/** the check that is said not to apply, and why */
	let leaving = $state<string | null>(null);
	let why = $state('');
	function leaveOut(event: SubmitEvent) {
		event.preventDefault();
		if (leaving === null || !why.trim()) return;
		void desk.send({ verb: 'gate', gate: leaving, passed: true, notApplicable: why.trim() });
		leaving = null;
		why = '';
	}
	const groups = [
		{ when: 'before-sealing', title: 'Before sealing' },
		{ when: 'after-sealing', title: 'After sealing' }
	] as const;
</script>

<p class="mb-2 text-ink-soft">
	Check the device before it leaves. Checks passed before the last repair are open again, because that repair
	may have undone them.
</p>
{#if desk.gates.length === 0}<p class="text-ink-soft">
		The catalog has no final checks. A fixed device can be closed at once.
	</p>{/if}
{#each groups as { when, title } (when)}
	{@const gates = desk.gates.filter((gate) => gate.when === when)}
	{#if gates.length > 0}
		<h2 class="mt-2">{title}</h2>
		{#if when === 'after-sealing' && desk.view.about.carries}
			<p class="text-[0.93rem]">
				Functions to test on this model: <strong>{desk.view.about.carries.join(', ')}</strong>
			</p>
		{/if}
		<ul>
			{#each gates as gate (gate.code)}
				{@const shown = gateFinding(gate, desk.ticket, desk.view)}
				{@const against = shown?.passed != null && gate.passed !== null && shown.passed !== gate.passed}
				<li class="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-edge py-1.5">
					<span class="min-w-48 flex-1 leading-snug max-sm:basis-full"
						>{gate.label}{#if shown}<span
								class="block text-[0.87rem] {against
									? 'font-semibold text-short'
									: shown.passed === true
										? 'text-agrees'
										: shown.passed === false
											? 'text-short'
											: 'text-ink-soft'}"
								>{against
									? '▲ measured differently: '
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
						{gate.notApplicable
							? `○ does not apply: ${gate.notApplicable}`
							: gate.passed === true
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
					<button
						class="btn btn-small"
						disabled={!open}
						aria-expanded={leaving === gate.code}
						onclick={() => (leaving = leaving === gate.code ? null : gate.code)}
						>Not applicable<span class="sr-only">: {gate.label} does not apply</span></button
					>
				</li>
				{#each gate.parts as { word, passed } (word)}
					<li class="flex items-center gap-3 border-b border-dotted border-edge py-1 pl-5 text-[0.93rem]">
						<span class="flex-1">{word}</span>
						<span
							class="text-sm {passed === true
								? 'text-agrees'
								: passed === false
									? 'text-short'
									: 'text-ink-soft'}"
							>{passed === true ? '● works' : passed === false ? '▼ does not' : '· not tried'}</span
						>
						<button
							class="btn btn-small"
							disabled={!open}
							aria-pressed={passed === true}
							onclick={() => desk.send({ verb: 'gate', gate: gate.code, of: word, passed: true })}
							>Works<span class="sr-only">: {word}</span></button
						>
						<button
							class="btn btn-small"
							disabled={!open}
							aria-pressed={passed === false}
							onclick={() => desk.send({ verb: 'gate', gate: gate.code, of: word, passed: false })}
							>Does not<span class="sr-only">: {word}</span></button
						>
					</li>
				{/each}
				{#if leaving === gate.code}
					<li class="border-b border-edge bg-wash px-2 py-1.5">
						<form class="flex flex-wrap items-end gap-2" onsubmit={leaveOut}>
							<Field
								id="not-here"
								label="Reason"
								maxlength={500}
								bind:value={why}
								autofocus
								class="min-w-56 flex-1"
							/>
							<button class="btn">Does not apply</button>
						</form>
					</li>
				{/if}
			{/each}
		</ul>
	{/if}
{/each}
<JointPanel {active} />
<ContinuityPanel />
<SupplyPanel />
<SoakPanel />
<PhotosPanel at="after" />
