<script lang="ts">
	import { enhance } from '$app/forms';
	import type { QueuedMessage } from '$lib/server/messages/queries';
	import { codeWords } from '$lib/core/units/code';
	import { useFormat } from '../ui/shop-context';

	/** Messages with where they stand; what failed or may have been sent is decided by a person. */
	let { messages, decide = false }: { messages: QueuedMessage[]; decide?: boolean } = $props();
	const format = useFormat();
	const STATES: Record<QueuedMessage['state'], { mark: string; word: string; tone: string }> = {
		waiting: { mark: '○', word: 'waits', tone: 'text-ink-soft' },
		sending: { mark: '◐', word: 'leaving', tone: 'text-ink-soft' },
		sent: { mark: '●', word: 'sent', tone: 'text-agrees' },
		failed: { mark: '✕', word: 'failed', tone: 'text-short' },
		unsure: { mark: '◇', word: 'may have been sent', tone: 'text-low' },
		dropped: { mark: '–', word: 'discarded', tone: 'text-ink-soft' }
	};
</script>

<ul>
	{#each messages as message (message.id)}
		{@const state = STATES[message.state]}
		<li class="border-b border-edge py-1.5">
			<div class="flex flex-wrap items-baseline gap-x-3 gap-y-1">
				<span class="{state.tone} w-28 font-semibold">{state.mark} {state.word}</span>
				<a class="link figure" href="/tickets/{message.number}">{message.number}</a>
				<strong>{codeWords(message.about)}</strong>
				<span class="text-ink-soft"
					>{message.channel === 'mail' ? 'mail' : 'text message'} to {message.recipient ||
						'deleted customer'}</span
				>
				<span class="ml-auto text-sm text-ink-soft"
					>{format.moment(
						message.sentAt ?? message.createdAt
					)}{#if message.state === 'waiting' && message.tries > 0 && message.nextAt !== null}, again {format.time(
							message.nextAt
						)}{/if}</span
				>
			</div>
			{#if message.problem}<p class="text-sm text-short">{message.problem} ({message.tries} tries)</p>{/if}
			{#if message.body}
				<details class="text-[0.93rem]">
					<summary class="cursor-pointer text-ink-soft"
						>{message.subject ?? message.body.split('\n')[0]}</summary
					>
					<p class="border-l-2 border-edge pl-2 whitespace-pre-line">{message.body}</p>
				</details>
			{/if}
			{#if decide && ['failed', 'unsure', 'waiting'].includes(message.state)}
				<form method="POST" action="?/decide" use:enhance class="mt-1 flex gap-2">
					<input type="hidden" name="id" value={message.id} />
					{#if message.state !== 'waiting'}<button class="btn btn-small" name="again" value="yes"
							>Send again</button
						>{/if}
					<button class="btn btn-small" name="again" value="no">Discard</button>
				</form>
			{/if}
		</li>
	{/each}
</ul>
