<script lang="ts">
	import { goto } from '$app/navigation';
	import type { Standing } from '$lib/server/tickets/where';
	import { useFormat } from './shop-context';
	import { standingWords } from './standing-words';

	/** Finds a ticket by number, name, telephone, serial or scan, and says where it stands before it is opened. */
	const format = useFormat();
	let typed = $state('');
	let message = $state('');
	let form = $state<HTMLFormElement>();
	let field = $state<HTMLInputElement>();
	let list = $state<HTMLUListElement>();
	let found = $state.raw<Standing[]>([]);
	let shown = $state(false);
	let timer: ReturnType<typeof setTimeout> | undefined;
	let asked = 0;

	export const focus = () => field?.focus();

	interface Answer {
		number: string | null;
		lot: { lot: string; sku: string } | null;
		found: Standing[];
	}
	async function ask(text: string): Promise<Answer | null> {
		const mine = ++asked;
		const response = await fetch(`/jump?number=${encodeURIComponent(text)}`).catch(() => null);
		if (!response?.ok || mine !== asked) return null;
		return (await response.json()) as Answer;
	}
	function onType() {
		message = '';
		clearTimeout(timer);
		const text = typed.trim();
		if (text.length < 2) {
			shown = false;
			return;
		}
		timer = setTimeout(async () => {
			const answer = await ask(text);
			if (!answer) return;
			found = answer.found;
			shown = found.length > 0;
		}, 220);
	}
	function leave() {
		clearTimeout(timer);
		asked++;
		typed = '';
		shown = false;
		field?.blur();
	}
	async function jump(event: SubmitEvent) {
		event.preventDefault();
		const text = typed.trim();
		if (!text) return;
		clearTimeout(timer);
		const answer = await ask(text);
		if (!answer) return;
		const { number, lot } = answer;
		const only = answer.found.length === 1 ? answer.found[0]?.number : undefined;
		const to = number ?? (lot ? undefined : only);
		if (!to && !lot) {
			found = answer.found;
			shown = found.length > 0;
			if (!shown) message = `There is no ticket ${text}, and no lot`;
			return;
		}
		leave();
		// the focus stays where the next key puts it, also while the ticket is still being drawn
		await goto(
			to ? `/tickets/${to}` : `/shelf?${new URLSearchParams({ part: lot?.sku ?? '', lot: lot?.lot ?? '' })}`,
			{ keepFocus: true }
		);
	}
	/** The focus went elsewhere: what was found is put away. */
	function left(event: FocusEvent) {
		if (!form?.contains(event.relatedTarget as Node)) shown = false;
	}
	/** Arrows go through what was found, Escape closes it. */
	function keys(event: KeyboardEvent) {
		if (!shown) return;
		if (event.key === 'Escape') {
			shown = false;
			field?.focus();
		}
		const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
		if (step === 0) return;
		event.preventDefault();
		const links = [...(list?.querySelectorAll('a') ?? [])];
		const at = links.indexOf(document.activeElement as HTMLAnchorElement);
		(links[at + step] ?? field)?.focus();
	}
</script>

<form class="relative ml-auto flex items-center gap-2" role="search" onsubmit={jump} bind:this={form}>
	<input
		id="scan"
		bind:this={field}
		bind:value={typed}
		oninput={onType}
		onkeydown={keys}
		onblur={left}
		class="thumb figure w-40 rounded-sm border border-[#6d8478] bg-house-deep px-2 py-1 text-house-ink placeholder:text-[#a8b8ae] sm:w-44"
		placeholder="number, name, scan"
		aria-label="Find or scan (J)"
		aria-describedby="scan-problem"
		autocomplete="off"
		inputmode="text"
	/>
	<p
		id="scan-problem"
		role="status"
		class={message
			? 'absolute top-full right-0 z-30 mt-1 rounded-sm border border-edge bg-paper px-3 py-1.5 text-sm font-semibold whitespace-nowrap text-short'
			: 'sr-only'}
	>
		{message || (shown ? `${found.length} found` : '')}
	</p>
	{#if shown}
		<ul
			bind:this={list}
			class="absolute top-full right-0 z-30 mt-1 w-[30rem] max-w-[calc(100vw-1.5rem)] rounded-sm border border-edge bg-paper text-ink shadow-md"
			aria-label="Where they stand"
		>
			{#each found as one (one.number)}
				<li class="border-b border-edge last:border-b-0">
					<a
						class="block px-3 py-1.5 leading-snug hover:bg-wash"
						href="/tickets/{one.number}"
						onclick={leave}
						onkeydown={keys}
						onblur={left}
					>
						<span class="figure font-semibold">{one.number}</span>
						{one.model}<span class="text-ink-soft">{one.customer ? ` · ${one.customer}` : ''}</span>
						<span
							class="block text-sm {one.closed && one.state !== 'handed-over' && one.state !== 'followed-up'
								? 'font-semibold text-agrees'
								: 'text-ink-soft'}">{standingWords(one, format)}</span
						>
					</a>
				</li>
			{/each}
		</ul>
	{/if}
</form>
