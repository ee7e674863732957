<script lang="ts">
	import { page } from '$app/state';

	/** The parts of the room: rates, the devices that came back with claims, calls that are due. */
	let { here }: { here: 'rates' | 'comebacks' | 'calls' } = $props();
	const role = $derived((page.data.user as { role: string }).role);
	const parts = $derived(
		[
			{ key: 'rates', href: '/returns', label: 'Rates', for: ['manager', 'technician'] },
			{
				key: 'comebacks',
				href: '/returns/claims',
				label: 'Comebacks and claims',
				for: ['manager', 'counter', 'technician']
			},
			{ key: 'calls', href: '/returns/calls', label: 'Calls', for: ['manager', 'counter', 'technician'] }
		].filter((part) => part.for.includes(role))
	);
</script>

<nav class="ml-auto flex flex-wrap gap-1" aria-label="Returns">
	{#each parts as { key, href, label } (key)}
		<a class="btn btn-small" {href} aria-current={key === here ? 'page' : undefined}>{label}</a>
	{/each}
</nav>
