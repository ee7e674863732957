<script lang="ts">
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	const desk = useDesk();
	const format = useFormat();
	const words = (verb: string) => verb.replaceAll('-', ' ');
</script>

<div aria-live="assertive">
	{#if desk.conflict}
		<div class="slip mt-3 border-l-[5px] border-l-short">
			<p>
				<strong>Somebody else changed this ticket while you were at it.</strong> Your entry ({words(
					desk.conflict.change.verb
				)}) is not saved yet and is kept.
			</p>
			<ul class="my-1">
				{#each desk.conflict.changes as change, i (i)}
					<li>
						<span class="figure text-sm">{format.time(change.at)}</span>
						{change.actor}: {words(change.verb)}
					</li>
				{/each}
			</ul>
			<p class="text-sm text-ink-soft">The page now shows the ticket with these changes.</p>
			<div class="mt-2 flex gap-2">
				<button class="btn btn-copper" onclick={() => desk.again()}>Save mine on top</button>
				<button class="btn" onclick={() => desk.drop()}>Let mine go</button>
			</div>
		</div>
	{:else if desk.kept}
		<div class="slip mt-3 border-l-[5px] border-l-short">
			<p class="font-semibold text-short">✕ {desk.problem ?? 'Not saved yet.'}</p>
			<p>Kept: {words(desk.kept.change.verb)}.</p>
			<div class="mt-2 flex gap-2">
				<button class="btn btn-copper" onclick={() => desk.again()}>Send it again</button>
				<button class="btn" onclick={() => desk.drop()}>Let it go</button>
			</div>
		</div>
	{:else if desk.problem}
		<div class="slip mt-3 flex items-center gap-3 border-l-[5px] border-l-short">
			<p class="flex-1 font-semibold text-short">✕ {desk.problem}</p>
			<button class="btn btn-small" onclick={() => desk.drop()}>Read</button>
		</div>
	{/if}
</div>
