<script lang="ts">
	import MessageList from '$lib/components/messages/MessageList.svelte';
	import Problem from '$lib/components/ui/Problem.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	import { nounFor } from '$lib/core/units/noun';
	let { data, form } = $props();
	const format = useFormat();
	const stuck = $derived(
		data.messages.filter(({ state }) => state === 'failed' || state === 'unsure').length
	);
</script>

<svelte:head><title>Messages · Tavrek</title></svelte:head>

<div class="slip mb-2.5 flex flex-wrap items-baseline gap-x-7 gap-y-1">
	<h1>Messages</h1>
	<p class={stuck > 0 ? 'font-semibold text-short' : 'text-ink-soft'}>
		{stuck > 0
			? `✕ ${stuck} ${nounFor(stuck, 'needs', 'need')} a decision.`
			: 'Every message that was due is sent.'}
	</p>
	{#if !data.ways.mail || !data.ways.text}
		<p class="text-low">
			▽ {data.ways.mail ? 'Text messages are' : data.ways.text ? 'Mail is' : 'Mail and text messages are'} not set
			up; see README, “Messages”.
		</p>
	{/if}
	<a class="link ml-auto" href="/customers">Customers</a>
</div>
<Problem message={form && 'problem' in form ? (form.problem ?? null) : null} />
<div class="grid items-start gap-2.5 {data.caught ? 'lg:grid-cols-2' : ''}">
	<section class="slip" aria-labelledby="queue">
		<h2 id="queue">Sent and queued</h2>
		{#if data.messages.length === 0}<p class="text-ink-soft">
				No message yet. Customers who agreed to email or text messages hear from the shop when a device is
				taken in, quoted, waits for a part or is ready, and some days later.
			</p>{:else}<MessageList messages={data.messages} decide />{/if}
	</section>
	{#if data.caught}
		<section class="slip" aria-labelledby="caught">
			<h2 id="caught">Test inbox</h2>
			<p class="mb-1 text-sm text-ink-soft">
				This shop sends nothing to real addresses. A built-in test server keeps the messages.
			</p>
			{#if data.caught.length === 0}<p class="text-ink-soft">No message yet.</p>{/if}
			<ul>
				{#each data.caught as { id, channel, recipient, subject, body, at } (id)}
					<li class="border-b border-edge py-1.5">
						<p class="flex flex-wrap gap-x-3">
							<strong>{subject ?? 'text message'}</strong><span class="text-ink-soft"
								>{channel === 'mail' ? 'to' : 'to the telephone'} {recipient}</span
							><span class="ml-auto text-sm text-ink-soft">{format.moment(at)}</span>
						</p>
						<p class="text-[0.93rem] whitespace-pre-line">{body}</p>
					</li>
				{/each}
			</ul>
		</section>
	{/if}
</div>
