<script lang="ts">
	import { isForView } from '$lib/components/ui/key-to-action';
	import { codeWords } from '$lib/core/units/code';
	import { DropdownMenu } from 'bits-ui';
	import { durationWords, promiseSlack } from '$lib/core/bench/promise';
	import { countdownWords } from '$lib/core/bench/wait-calls';
	import type { Wait } from '$lib/core/tickets/ticket-entries';
	import { waitsOf } from '$lib/core/tickets/waits';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import type { PasscodeAnswer } from '$lib/server/tickets/passcodes';
	import { useFormat } from '../ui/shop-context';
	import { useWaits } from '../ui/wait-board.svelte';
	import { useDesk } from './desk.svelte';
	import LifeStep from './LifeStep.svelte';
	import ComebackLine from './ComebackLine.svelte';

	let {
		bench,
		own,
		onclose
	}: { bench: BenchCatalog; /** of the customer's page */ own: string | null; onclose: () => void } =
		$props();
	const desk = useDesk();
	const format = useFormat();
	const ticket = $derived(desk.view.ticket);
	const slack = $derived(promiseSlack(ticket.promisedAt, desk.view.now));
	const slackWords = $derived(
		slack.slackMs === null
			? 'no promise'
			: slack.slackMs < 0
				? `late by ${durationWords(slack.slackMs)}`
				: `${durationWords(slack.slackMs)} left`
	);
	const holder = $derived(
		bench.technicians.find(({ code }) => code === ticket.assignedTo)?.name ?? ticket.assignedTo
	);
	const board = useWaits();
	const waits = $derived(waitsOf(ticket));
	const where = $derived(
		ticket.closedAt !== null
			? `closed ${format.moment(ticket.closedAt)}, ${codeWords(ticket.outcome ?? '')}`
			: [
					holder ? `with ${holder}` : 'waiting for a bench',
					waits.length > 0 ? `waits for ${waits.map(waitWords).join(' and ')}` : ''
				]
					.filter(Boolean)
					.join(' · ')
	);
	/** a wait with an end counts down */
	function waitWords(what: Wait): string {
		const until = ticket.waits.find((wait) => wait.for === what && wait.endedAt === undefined)?.until;
		return until === undefined ? what : `${what}, ${countdownWords(until, board.now)}`;
	}
	const details = $derived(
		[
			{ label: 'On arrival', text: ticket.condition },
			{ label: 'Accessories', text: ticket.accessories },
			{ label: 'Telephone', text: ticket.customer?.phone },
			{ label: 'Notes for the technician', text: desk.view.about.notes },
			{ label: 'Functions to test', text: desk.view.about.carries?.join(', ') }
		].filter(({ text }) => text)
	);
	let handingOver = $state(false);
	/** once they were asked for they stay, so that the hand comes back to where it was */
	let asked = $state({ handOver: false, correct: false });
	$effect(() => {
		if (handingOver) asked.handOver = true;
		if (correcting) asked.correct = true;
	});
	let correcting = $state(false);
	let passcode = $state<string | null>(null);
	const sheets = [
		{ what: 'sheet', label: 'Job sheet', key: 'P' },
		{ what: 'receipt', label: 'Drop-off slip', key: 'R' },
		{ what: 'label', label: 'Tag label', key: 'L' },
		{ what: 'quote', label: 'Quote', key: 'Q' }
	];
	const print = (what: string) => window.open(`/tickets/${ticket.number}/print/${what}`, '_blank');

	function keys(event: KeyboardEvent) {
		if (!isForView(event)) return;
		const sheet = sheets.find(({ key }) => key.toLowerCase() === event.key);
		if (sheet) print(sheet.what);
		if (event.key === 'h' && ticket.closedAt === null) handingOver = true;
	}

	const NOT_SHOWN = {
		none: 'none stored',
		unreadable: 'cannot be read: it was encrypted with another key',
		'not-yours': 'shown only to the technician who has the ticket. Pass it to yourself first.'
	};
	async function showPasscode() {
		const answer = await fetch(`/tickets/${ticket.number}/passcode`, { method: 'POST' });
		const { ok, ...said } = (await answer.json()) as PasscodeAnswer;
		passcode = ok && 'passcode' in said ? said.passcode : NOT_SHOWN['code' in said ? said.code : 'none'];
	}
</script>

<svelte:window onkeydown={keys} />

<div class="slip tag flex flex-wrap items-center gap-x-5 gap-y-2 py-2 pl-9">
	<span class="hole" aria-hidden="true"></span>
	<h1 class="figure text-[1.6rem] leading-none font-semibold">{ticket.number}</h1>
	<div class="min-w-48 flex-1 leading-snug">
		<p>
			<strong>{desk.view.modelLabel}</strong>{#if ticket.serial}{' · '}<a
					class="link figure text-ink-soft"
					title="every visit of this device"
					href="/devices/{encodeURIComponent(ticket.serial)}">{ticket.serial}</a
				>{/if}
		</p>
		<p class="text-ink-soft">
			{#if desk.view.customerId !== null && ticket.customer}<a
					class="link"
					href="/customers/{desk.view.customerId}">{ticket.customer.name}</a
				>{:else}{ticket.customer?.name ??
					'no customer'}{/if}{#if ticket.customer?.kind === 'trade'}{' · trade'}{/if}{#if ticket.comebackOf}{' · comes back from '}<a
					class="link figure"
					href="/tickets/{ticket.comebackOf}">{ticket.comebackOf}</a
				>{/if}{#each desk.view.comebacks as { number, cause }, i (number)}{i === 0
					? ' · came back as '
					: ', '}<a class="link figure" href="/tickets/{number}">{number}</a>{cause
					? ` (${cause.toLowerCase()})`
					: ''}{/each}{#if ticket.matters === 'data'}{' · '}<strong>the data matters</strong
				>{/if}{#if desk.view.hasPasscode}{' · '}{#if passcode === null}<button
						class="link"
						onclick={showPasscode}>show passcode</button
					>{:else}passcode <strong class="figure">{passcode}</strong>{/if}{/if}
		</p>
	</div>
	<div class="text-right leading-snug">
		<p>
			{#if ticket.promisedAt !== null}<strong>Promised {format.weekdayTime(ticket.promisedAt)}</strong
				>{:else}<strong>No promise</strong>{/if}
		</p>
		<p
			class={slack.urgency === 'late' && ticket.closedAt === null
				? 'font-semibold text-short'
				: 'text-ink-soft'}
		>
			{ticket.closedAt === null ? `${slackWords} · ${where}` : where}
		</p>
	</div>
	<div class="flex flex-wrap gap-2">
		{#if ticket.closedAt === null}
			<button class="btn" onclick={() => (handingOver = true)}>Pass on <span class="key">H</span></button>
			<button class="btn" onclick={() => (correcting = true)}>Correct</button>
		{/if}
		<DropdownMenu.Root>
			<DropdownMenu.Trigger class="btn">Print</DropdownMenu.Trigger>
			<DropdownMenu.Portal>
				<DropdownMenu.Content class="slip z-50 min-w-40 p-1.5 shadow-md" align="end" sideOffset={4}>
					{#each sheets as { what, label, key } (what)}
						<DropdownMenu.Item
							class="flex justify-between rounded-sm px-3 py-1.5 outline-none data-highlighted:bg-wash"
							onSelect={() => print(what)}>{label}<span class="key">{key}</span></DropdownMenu.Item
						>
					{/each}
					{#if own}
						<DropdownMenu.Item
							class="rounded-sm px-3 py-1.5 outline-none data-highlighted:bg-wash"
							onSelect={() => window.open(own, '_blank', 'noopener')}>Customer’s page</DropdownMenu.Item
						>
					{/if}
				</DropdownMenu.Content>
			</DropdownMenu.Portal>
		</DropdownMenu.Root>
		{#if ticket.closedAt === null}
			<button class="btn" onclick={onclose}>Close</button>
		{:else if desk.mayWhenClosed('reopen')}
			<button class="btn" onclick={() => desk.send({ verb: 'reopen' })}>Reopen</button>
		{/if}
	</div>
	<LifeStep {details} />
	{#if ticket.comebackOf}<ComebackLine {bench} />{/if}
</div>
<!-- fields and calendars of these come when they are asked for -->
{#if asked.handOver}{#await import('./HandOver.svelte') then { default: HandOver }}<HandOver
			bind:open={handingOver}
			{bench}
		/>{/await}{/if}
{#if asked.correct}{#await import('./CorrectHead.svelte') then { default: CorrectHead }}<CorrectHead
			bind:open={correcting}
			{bench}
		/>{/await}{/if}

<style>
	.tag {
		clip-path: polygon(14px 0, 100% 0, 100% 100%, 0 100%, 0 14px);
		position: relative;
	}
	.hole {
		position: absolute;
		left: 12px;
		top: 50%;
		width: 13px;
		height: 13px;
		transform: translateY(-50%);
		border: 1px solid var(--edge-strong);
		border-radius: 50%;
		background: var(--mat);
	}
</style>
