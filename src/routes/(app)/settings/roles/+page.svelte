<script lang="ts">
	import { ROLES } from '$lib/core/units/role';
	let { data } = $props();
</script>

<svelte:head><title>Permissions · Tavrek</title></svelte:head>

<div class="grid items-start gap-3 lg:grid-cols-[minmax(0,0.8fr)_minmax(0,1fr)]">
	<section class="slip overflow-x-auto" aria-labelledby="verbs-title">
		<h1 id="verbs-title" class="mb-1">Changes to a ticket</h1>
		<p class="mb-2 text-ink-soft">
			Checked by the server at every change. Anyone who may make an entry may also strike it out and restore
			it.
		</p>
		<table class="ledger">
			<thead
				><tr
					><th>Change</th>{#each ROLES as role (role)}<th class="text-center">{role}</th>{/each}</tr
				></thead
			>
			<tbody>
				{#each data.permissions as { says, roles } (says)}
					<tr>
						<td>{says}</td>
						{#each ROLES as role (role)}
							<td class="text-center {roles.includes(role) ? 'text-agrees' : 'text-ink-soft'}"
								>{roles.includes(role) ? '● yes' : '· no'}</td
							>
						{/each}
					</tr>
				{/each}
			</tbody>
		</table>
	</section>
	<section class="slip overflow-x-auto" aria-labelledby="routes-title">
		<h1 id="routes-title" class="mb-1">Pages and API calls</h1>
		<p class="mb-2 text-ink-soft">With the largest amount that can be sent at once.</p>
		<table class="ledger">
			<thead><tr><th>Where</th><th>Sees</th><th>Sends</th><th class="num">At most</th></tr></thead>
			<tbody>
				{#each data.routes as { route, see, send, most } (route)}
					<tr>
						<td class="figure text-sm break-all">{route || '/'}</td>
						<td class="text-sm">{see.length === 3 ? 'all' : see.join(', ') || '–'}</td>
						<td class="text-sm">{send.length === 3 ? 'all' : send.join(', ') || '–'}</td>
						<td class="num">{most ?? ''}</td>
					</tr>
				{/each}
			</tbody>
		</table>
	</section>
</div>
