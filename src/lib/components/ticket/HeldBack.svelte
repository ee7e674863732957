<script lang="ts">
	import { codeWords } from '$lib/core/units/code';
	import { useFormat } from '../ui/shop-context';
	import { changeWords } from './change-words';
	import { useDesk } from './desk.svelte';
	/** What is not saved: entries that wait for the line, and those that somebody has to decide on, each with its reason. */
	const desk = useDesk();
	const format = useFormat();
	/** the question which timer stops is put where the timers are */
	const asked = $derived(
		desk.held.filter(
			({ change, held }) => !(change.verb === 'start-timer' && held?.code === 'refused' && held.more)
		)
	);
	const waiting = $derived(desk.line === 'there' ? [] : desk.waiting);
</script>

<div aria-live="assertive">
	{#if waiting.length > 0}
		<div class="slip mt-3 border-l-[5px] border-l-low">
			<p class="font-semibold text-low">
				▽ <span class="figure">{waiting.length}</span>
				{waiting.length === 1 ? 'entry is' : 'entries are'} waiting to be sent: {desk.line === 'away'
					? 'the server or its database cannot be reached.'
					: 'your session has ended. Sign in again in another tab.'}
			</p>
			<p>
				{desk.full
					? 'This browser keeps no more: do not close this page until the line is back.'
					: 'Kept in this browser, also when the page is closed, and sent in order when the line is back.'}
			</p>
		</div>
	{/if}
	{#each asked as { once, change, held } (once)}
		<div class="slip mt-3 border-l-[5px] border-l-short">
			{#if held?.code === 'stale'}
				<p>
					<strong>Someone else changed this ticket while you were working on it.</strong> Your entry ({changeWords(
						change
					)}) is not saved yet, but kept{desk.waiting.length > 0
						? `, with ${desk.waiting.length} behind it`
						: ''}.
				</p>
				<ul class="my-1">
					{#each held.changes as other, i (i)}
						<li>
							<span class="figure text-sm">{format.time(other.at)}</span>
							{other.actor}: {codeWords(other.verb)}
						</li>
					{/each}
				</ul>
				<p class="text-sm text-ink-soft">The page now shows their changes.</p>
				<div class="mt-2 flex gap-2">
					<button class="btn btn-copper" onclick={() => desk.again(once)}>Apply mine on top</button>
					<button class="btn" onclick={() => desk.drop(once)}>Discard mine</button>
				</div>
			{:else if held}
				<p class="font-semibold text-short">✕ {held.reason}</p>
				<p>Not saved, kept here: {changeWords(change)}.</p>
				<div class="mt-2 flex gap-2">
					<button class="btn" onclick={() => desk.again(once)}>Send it again</button>
					<button class="btn" onclick={() => desk.drop(once)}>Discard</button>
				</div>
			{/if}
		</div>
	{/each}
</div>
