<script lang="ts">
	import { keyToAction } from '$lib/components/ui/key-to-action';
	import { onMount, untrack } from 'svelte';
	import { goto } from '$app/navigation';
	import { page } from '$app/state';
	import { DropdownMenu } from 'bits-ui';
	import { forgetEverything, hearOtherTabs } from '$lib/components/ui/leave';
	import WaitCalls from '$lib/components/ui/WaitCalls.svelte';
	import FindField from '$lib/components/ui/FindField.svelte';
	import Mark from '$lib/components/ui/Mark.svelte';
	import { OutboxState, provideOutbox } from '$lib/components/ui/outbox.svelte';
	import { notify, sound } from '$lib/components/ui/call-out';
	import { provideFormat } from '$lib/components/ui/shop-context';
	import { overWords, provideWaits, WaitBoard } from '$lib/components/ui/wait-board.svelte';
	let { data, children } = $props();
	provideFormat(() => data.shop);
	const memory = typeof localStorage === 'undefined' ? null : localStorage;
	const nothing = {
		length: 0,
		key: () => null,
		getItem: () => null,
		setItem: () => {},
		removeItem: () => {}
	};
	const outbox = provideOutbox(
		new OutboxState(
			untrack(() => data.user.signIn),
			memory ?? nothing
		)
	);
	const waits = provideWaits(
		new WaitBoard((wait) => {
			sound();
			notify(`Over: ${overWords(wait)}`, `${wait.number} ${wait.for}`);
		})
	);
	onMount(() => {
		outbox.restore();
		const again = () => void outbox.drain();
		window.addEventListener('online', again);
		const stopHearing = hearOtherTabs(outbox);
		return () => {
			window.removeEventListener('online', again);
			stopHearing();
		};
	});
	/** entries of tickets that are not on the screen */
	const elsewhere = $derived([
		...new Set(outbox.entries.map(({ number }) => number).filter((number) => page.params.number !== number))
	]);
	function leave(event: SubmitEvent) {
		const unsent = outbox.entries.length;
		const words = unsent === 1 ? 'One entry is' : `${unsent} entries are`;
		if (unsent > 0 && !confirm(`${words} not saved yet and will be lost. Sign out anyway?`)) {
			event.preventDefault();
			return;
		}
		forgetEverything(outbox);
	}

	const rooms = $derived(
		[
			{ href: '/floor', label: 'Floor' },
			{ href: '/counter', label: 'Counter' },
			{ href: '/tickets', label: 'Tickets' },
			{ href: '/known-good', label: 'Known good' },
			{ href: '/shelf', label: 'Shelf' },
			{ href: data.user.role === 'counter' ? '/returns/calls' : '/returns', label: 'Returns' },
			...(data.user.role === 'manager'
				? [
						{ href: '/books', label: 'Books' },
						{ href: '/practice', label: 'Track record' },
						{ href: '/workbook', label: 'Workbook' },
						{ href: '/settings', label: 'Settings' }
					]
				: [
						...(data.user.role === 'technician' ? [{ href: '/practice', label: 'Track record' }] : []),
						{ href: '/workbook', label: 'Workbook' }
					])
		].map((room) => ({ ...room, here: page.url.pathname.startsWith(`/${room.href.split('/')[1]}`) }))
	);
	let finder = $state<FindField>();

	const KEYS = { j: 'find', n: 'take-in' } as const;
	function keys(event: KeyboardEvent) {
		const action = keyToAction(KEYS, event);
		if (action === 'find') {
			event.preventDefault();
			finder?.focus();
		}
		if (action === 'take-in') void goto('/counter');
	}

	function setTheme(theme: string) {
		document.cookie = `tavrek_theme=${theme}; path=/; max-age=31536000; samesite=lax`;
		document.documentElement.dataset.theme = theme;
	}
	const item = 'block w-full rounded-sm px-3 py-1.5 text-left outline-none data-highlighted:bg-wash';
</script>

<svelte:window onkeydown={keys} />

<a class="sr-only focus:not-sr-only focus:absolute focus:z-50 focus:bg-paper focus:p-2" href="#work">
	Skip to content
</a>
<header class="no-print bg-house text-house-ink">
	<div class="flex flex-wrap items-center gap-x-5 gap-y-1 border-b-2 border-house-deep px-4">
		<a href="/floor" class="flex items-center gap-2 py-2 text-[1.05rem] font-bold text-[#fbf8f0]">
			<Mark /> Tavrek
		</a>
		<nav aria-label="Rooms" class="order-last -mx-1 flex max-w-full overflow-x-auto md:order-none">
			{#each rooms as room (room.href)}
				<a
					href={room.href}
					aria-current={room.here ? 'page' : undefined}
					class="border-b-[3px] px-2.5 pt-2.5 pb-2 whitespace-nowrap {room.here
						? 'border-range font-semibold text-[#fbf8f0]'
						: 'border-transparent'}">{room.label}</a
				>
			{/each}
		</nav>
		<FindField bind:this={finder} />
		<DropdownMenu.Root>
			<DropdownMenu.Trigger class="py-2 font-semibold text-[#fbf8f0]">
				{data.user.name}<span class="sr-only">: light, sign out</span>
			</DropdownMenu.Trigger>
			<DropdownMenu.Portal>
				<DropdownMenu.Content class="slip z-50 min-w-52 p-1.5 shadow-md" align="end" sideOffset={4}>
					<p class="px-3 py-1 text-sm text-ink-soft">{data.shop.name} · {data.user.role}</p>
					<DropdownMenu.Item class={item} onSelect={() => void goto('/account')}
						>Change password</DropdownMenu.Item
					>
					<DropdownMenu.Item class={item} onSelect={() => setTheme('daylight')}>Light theme</DropdownMenu.Item
					>
					<DropdownMenu.Item class={item} onSelect={() => setTheme('lamp')}>
						Dark theme, for the microscope
					</DropdownMenu.Item>
					<DropdownMenu.Item
						class={item}
						onSelect={() => (document.getElementById('sign-out') as HTMLFormElement).requestSubmit()}
					>
						Sign out
					</DropdownMenu.Item>
				</DropdownMenu.Content>
			</DropdownMenu.Portal>
		</DropdownMenu.Root>
		<form id="sign-out" method="POST" action="/sign-out" class="hidden" onsubmit={leave}></form>
	</div>
</header>
<WaitCalls board={waits} />
<main id="work" class="mx-auto max-w-[1560px] p-3 sm:px-4">
	{#if elsewhere.length > 0}
		<p role="status" class="slip mb-3 border-l-[5px] border-l-low">
			Not saved yet. Kept in this browser and sent when the connection is back:
			{#each elsewhere as number (number)}<a class="link figure mr-2" href="/tickets/{number}">{number}</a
				>{/each}
		</p>
	{/if}
	{@render children()}
</main>
