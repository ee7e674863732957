<script lang="ts">
	import { isForView } from '$lib/components/ui/key-to-action';
	import { tick } from 'svelte';
	import { enhance } from '$app/forms';
	import ReturnsNav from '$lib/components/returns/ReturnsNav.svelte';
	import { percent } from '$lib/components/returns/returns-view';
	import { newOnce } from '$lib/components/ui/once';
	import Problem from '$lib/components/ui/Problem.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	import { nounFor } from '$lib/core/units/noun';
	let { data, form } = $props();
	const format = useFormat();
	/** one call is at hand; the answer takes the list on to the next */
	let chosen = $state<string | null>(null);
	const at = $derived(data.calls.find(({ number }) => number === chosen) ?? data.calls[0] ?? null);
	const KIND = { 'follow-up': 'How is it doing?', ready: 'It is ready', quote: 'Their answer' };
	const answers = $derived(
		at === null || at.kind === 'quote'
			? []
			: at.kind === 'ready'
				? [{ found: 'told', key: 'T', label: 'Told' }]
				: [
						{ found: 'holds', key: 'Y', label: 'Working' },
						{ found: 'trouble', key: 'N', label: 'Problem' },
						{ found: 'not-reached', key: 'R', label: 'No answer' }
					]
	);
	let said = $state('');
	let once = $state(newOnce());
	function keys(event: KeyboardEvent) {
		if (!isForView(event)) return;
		const answer = answers.find(({ key }) => key.toLowerCase() === event.key.toLowerCase());
		if (answer) {
			event.preventDefault();
			document.querySelector<HTMLButtonElement>(`button[value="${answer.found}"]`)?.click();
			return;
		}
		const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
		if (step === 0 || !at) return;
		event.preventDefault();
		const to = data.calls[data.calls.indexOf(at) + step];
		if (to) choose(to.number);
	}
	function choose(number: string) {
		chosen = number;
		said = '';
		once = newOnce();
		void tick().then(() => document.getElementById(`call-${number}`)?.scrollIntoView({ block: 'nearest' }));
	}
	const since = (days: number) =>
		days < 1 ? 'today' : `${Math.round(days)} ${nounFor(Math.round(days), 'day')} ago`;
	const DAY = 86_400_000;
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Calls · Tavrek</title></svelte:head>

<div class="slip mb-2.5 flex flex-wrap items-baseline gap-x-7 gap-y-1">
	<h1>Calls</h1>
	<p>
		<span class="figure text-2xl">{data.calls.length}</span>
		<span class="text-ink-soft">{nounFor(data.calls.length, 'call is', 'calls are')} due</span>
	</p>
	<p class="text-ink-soft">
		{#if data.asked.asked === 0}No customer was called yet.{:else}Of {data.asked.asked} asked in {data.asked
				.days} days {data.asked.held} work,
			<span class="figure">{percent(data.asked.interval.low)} to {percent(data.asked.interval.high)}</span
			>{#if data.asked.middleDays !== null}, {data.asked.middleDays.toFixed(0)} days after on average of the middle{/if}.{/if}
	</p>
	<ReturnsNav here="calls" />
</div>
{#if !at}
	<div class="slip">
		<p>No call is due. A call is due three days after pick-up, sooner for a risky repair.</p>
	</div>
{:else}
	<div class="grid items-start gap-2.5 lg:grid-cols-[minmax(0,1fr)_minmax(320px,1fr)]">
		<section class="slip order-1 lg:sticky lg:top-2 lg:order-2" aria-labelledby="at-hand">
			<h2 id="at-hand">{KIND[at.kind]}</h2>
			<p class="mt-1 text-xl font-semibold">{at.customer}</p>
			<p class="mb-2">
				{#if at.phone}<a class="figure link text-2xl" href="tel:{at.phone.replace(/\s/g, '')}">{at.phone}</a
					>{:else}<span class="text-low">▽ no phone number on file</span>{/if}
			</p>
			<p>
				<a class="link figure" href="/tickets/{at.number}">{at.number}</a>
				{at.device}{#if at.collectedAt !== null}, picked up {format.day(
						at.collectedAt
					)}{/if}{#if at.tried > 0}, tried {at.tried}
					{nounFor(at.tried, 'time')} before{/if}{#if at.written}, message sent too{/if}.
			</p>
			{#if at.risks.length > 0}<p class="mt-1 border-l-[5px] border-low bg-paper-2 px-2.5 py-1">
					Risky: {at.risks.join(', ')}.
				</p>{/if}
			<ul class="my-2 list-disc pl-5 text-[1.05rem]">
				{#each at.ask as question (question)}<li>{question}</li>{/each}
			</ul>
			{#if at.kind === 'quote'}
				<a class="btn btn-copper" href="/tickets/{at.number}">Open the offer</a>
			{:else}
				<form
					method="POST"
					action="?/answer"
					use:enhance={() =>
						async ({ update }) => {
							await update();
							said = '';
							once = newOnce();
						}}
				>
					<input type="hidden" name="ticket" value={at.number} />
					<input type="hidden" name="version" value={at.version} />
					<input type="hidden" name="once" value={once} />
					{#if at.kind === 'follow-up'}
						<label class="label" for="said">Answer of the customer</label>
						<input id="said" name="said" class="field mb-2 w-full" maxlength="500" bind:value={said} />
					{/if}
					<div class="flex flex-wrap gap-2">
						{#each answers as { found, key, label }, i (found)}
							<button class="btn {i === 0 ? 'btn-copper' : ''}" name="found" value={found}
								>{label} <span class="key">{key}</span></button
							>
						{/each}
					</div>
				</form>
			{/if}
			<Problem message={form && 'problem' in form ? (form.problem ?? null) : null} />
		</section>
		<section class="slip order-2 lg:order-1" aria-labelledby="due">
			<h2 id="due">Due, riskiest first</h2>
			<ul>
				{#each data.calls as call (call.number)}
					<li class="border-b border-edge">
						<button
							id="call-{call.number}"
							class="flex w-full flex-wrap items-baseline gap-x-3 px-1.5 py-2 text-left {call === at
								? 'bg-wash'
								: ''}"
							aria-current={call === at ? 'true' : undefined}
							onclick={() => choose(call.number)}
						>
							<span class="figure">{call.number}</span>
							<strong class="flex-1">{call.customer}</strong>
							<span class="text-sm text-ink-soft"
								>{call.kind === 'follow-up'
									? 'follow-up call'
									: call.kind === 'ready'
										? 'ready'
										: 'offer unanswered'}, due {since((data.now - call.dueAt) / DAY)}</span
							>
							{#if call.risks.length > 0}<span class="w-full text-sm text-low">▽ {call.risks.join(', ')}</span
								>{/if}
						</button>
					</li>
				{/each}
			</ul>
		</section>
	</div>
{/if}
