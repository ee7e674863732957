<script lang="ts">
	import { page } from '$app/state';
	let { children } = $props();
	const parts = [
		{ href: '/settings', label: 'Shop and data' },
		{ href: '/settings/catalog', label: 'Catalog' },
		{ href: '/settings/boards', label: 'Boards' },
		{ href: '/settings/starter', label: 'Starter catalog' },
		{ href: '/settings/people', label: 'Staff and API tokens' },
		{ href: '/settings/roles', label: 'Permissions' },
		{ href: '/settings/audit', label: 'Audit log' }
	];
</script>

<nav class="mb-3 flex flex-wrap gap-2" aria-label="Settings">
	{#each parts as part (part.href)}
		<a
			href={part.href}
			class="btn btn-small"
			aria-current={page.url.pathname === part.href ? 'page' : undefined}>{part.label}</a
		>
	{/each}
</nav>
{@render children()}
