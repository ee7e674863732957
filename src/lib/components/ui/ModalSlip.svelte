<script lang="ts">
	import { Dialog } from 'bits-ui';
	import type { Snippet } from 'svelte';

	let {
		open = $bindable(false),
		title,
		wide = false,
		children
	}: { open: boolean; title: string; wide?: boolean; children: Snippet } = $props();
</script>

<Dialog.Root bind:open>
	<Dialog.Portal>
		<Dialog.Overlay class="fixed inset-0 z-40 bg-black/45" />
		<Dialog.Content
			class="slip fixed top-1/2 left-1/2 z-50 max-h-[88vh] {wide
				? 'w-[min(820px,96vw)]'
				: 'w-[min(560px,94vw)]'} -translate-x-1/2 -translate-y-1/2 overflow-y-auto p-5"
		>
			<Dialog.Title class="mb-3 text-lg font-bold">{title}</Dialog.Title>
			{@render children()}
			<Dialog.Close class="absolute top-3 right-4 px-2 text-xl" aria-label="Put away">×</Dialog.Close>
		</Dialog.Content>
	</Dialog.Portal>
</Dialog.Root>
