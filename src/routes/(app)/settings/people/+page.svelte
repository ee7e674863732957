<script lang="ts">
	import Field from '$lib/components/ui/Field.svelte';
	import { enhance } from '$app/forms';
	import Problem from '$lib/components/ui/Problem.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	import { ROLES } from '$lib/core/units/role';
	let { data, form } = $props();
	const format = useFormat();
	const kept = $derived<Record<string, string>>(form?.kept ?? {});
	const problems = $derived<Record<string, string>>(form?.problems ?? {});
	const stay =
		() =>
		({ update }: { update: (options: { reset: boolean }) => Promise<void> }) =>
			update({ reset: false });
</script>

<svelte:head><title>People · Tavrek</title></svelte:head>

<div class="grid items-start gap-3 lg:grid-cols-[1.2fr_1fr]">
	<section class="slip" aria-labelledby="people-title">
		<h1 id="people-title" class="mb-2">People</h1>
		<Problem message={problems.people} />
		{#if form?.reset}
			<p role="status" class="mb-3 border-l-[5px] border-copper bg-wash p-3">
				One-time password for {form.reset.name}, valid for one sign-in within two days. Write it down now; it
				is not shown again:<br /><strong class="figure text-lg">{form.reset.password}</strong>
			</p>
		{/if}
		<table class="ledger mb-4">
			<thead
				><tr
					><th>Name</th><th>Signs in as</th><th>Role</th><th>Technician</th><th
						><span class="sr-only">Do</span></th
					></tr
				></thead
			>
			<tbody>
				{#each data.users as user (user.id)}
					<tr class={user.active ? '' : 'text-ink-soft'}>
						<td>{user.name}{user.active ? '' : ', shut out'}</td>
						<td class="figure">{user.signIn}</td>
						<td>{user.role}</td>
						<td>{user.technician ?? ''}</td>
						<td class="text-right whitespace-nowrap">
							<form method="POST" action="?/reset" use:enhance={stay} class="inline">
								<input type="hidden" name="id" value={user.id} />
								<button class="link mr-3 text-sm"
									>one-time password<span class="sr-only"> for {user.name}</span></button
								>
							</form>
							<form method="POST" action="?/active" use:enhance={stay} class="inline">
								<input type="hidden" name="id" value={user.id} />
								<input type="hidden" name="version" value={user.version} />
								<button class="link text-sm" name="active" value={user.active ? 'no' : 'yes'}
									>{user.active ? 'Block' : 'Unblock'}<span class="sr-only"> {user.name}</span></button
								>
							</form>
						</td>
					</tr>
				{/each}
			</tbody>
		</table>
		<h2 class="mb-1">Add staff</h2>
		<form
			method="POST"
			action="?/add"
			class="grid grid-cols-2 gap-3"
			use:enhance={() =>
				({ update, result }) =>
					update({ reset: result.type === 'success' })}
		>
			<Field
				id="name"
				label="Name"
				name="name"
				required
				value={kept.name ?? ''}
				error={problems.name ?? null}
			/>
			<Field
				id="signIn"
				label="Signs in as"
				figure
				name="signIn"
				required
				autocomplete="off"
				value={kept.signIn ?? ''}
				error={problems.signIn ?? null}
			/>
			<Field id="role" label="Role" name="role" value={kept.role ?? 'technician'} select
				>{#each ROLES as role (role)}<option>{role}</option>{/each}</Field
			>
			<Field
				id="technician"
				label="Technician in the catalog"
				name="technician"
				value={kept.technician ?? ''}
				select
			>
				<option value="">none</option>
				{#each data.technicians as { code, name } (code)}<option value={code}>{name}</option>{/each}
			</Field>
			<Field
				id="password"
				label="First password, at least 12 characters"
				name="password"
				type="password"
				required
				autocomplete="new-password"
				class="col-span-2"
				error={problems.password ?? null}
			/>
			<div class="col-span-2 flex items-center gap-3">
				<button class="btn btn-copper">Add</button>
				{#if form?.added}<span role="status" class="text-agrees">● {form.added} can sign in</span>{/if}
			</div>
		</form>
	</section>
	<section class="slip" aria-labelledby="tokens-title">
		<h1 id="tokens-title" class="mb-2">API tokens</h1>
		<p class="mb-2 text-ink-soft">
			For other programs: <a class="link" href="/api/v1/openapi.json" data-sveltekit-reload
				>what the API offers</a
			>.
		</p>
		{#if form?.token}
			<p role="status" class="mb-3 border-l-[5px] border-copper bg-wash p-3">
				Copy it now; it is not shown again:<br /><strong class="figure break-all">{form.token}</strong>
			</p>
		{/if}
		{#if data.tokens.length > 0}
			<table class="ledger mb-3">
				<thead
					><tr
						><th>Purpose</th><th>Role</th><th>Owner</th><th>Ends</th><th>Last used</th><th
							><span class="sr-only">Do</span></th
						></tr
					></thead
				>
				<tbody>
					{#each data.tokens as token (token.id)}
						<tr class={token.ended ? 'text-ink-soft' : ''}>
							<td>{token.label}</td><td>{token.role}</td><td>{token.owner ?? 'nobody'}</td>
							<td>{token.expiresAt === null ? 'never' : format.date(token.expiresAt)}</td>
							<td>{token.usedAt === null ? 'not yet' : format.moment(token.usedAt)}</td>
							<td class="text-right">
								{#if token.revokedAt}revoked{:else if token.ended}ended{:else}
									<form method="POST" action="?/revoke" use:enhance={stay}>
										<input type="hidden" name="id" value={token.id} />
										<button class="link text-sm">revoke<span class="sr-only"> {token.label}</span></button>
									</form>
								{/if}
							</td>
						</tr>
					{/each}
				</tbody>
			</table>
		{/if}
		<form
			method="POST"
			action="?/token"
			class="grid grid-cols-[1fr_auto_auto_auto] items-end gap-2"
			use:enhance
		>
			<Field id="label" label="Purpose" name="label" required />
			<Field id="token-role" label="Role" name="role" value="technician" select
				>{#each ROLES as role (role)}<option>{role}</option>{/each}</Field
			>
			<Field id="token-days" label="Valid for" name="days" value="90" select
				>{#each data.tokenDays as days (days)}<option value={String(days)}>{days} days</option>{/each}</Field
			>
			<button class="btn">Make token</button>
		</form>
		<Problem message={problems.label ?? problems.tokens} />
		<p class="mt-2 text-sm text-ink-soft">A token ends with its owner’s account.</p>
		<h2 class="mt-5 mb-1">Signed in</h2>
		<p>
			A session ends after <span class="figure">{data.session.idleHours}</span> hours without activity, and
			after
			<span class="figure">{data.session.longestDays}</span> days in any case. Blocked staff are signed out at once.
		</p>
	</section>
</div>
