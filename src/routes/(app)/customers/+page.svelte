<script lang="ts">
	import { enhance } from '$app/forms';
	import Problem from '$lib/components/ui/Problem.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	import { nounFor } from '$lib/core/units/noun';
	let { data, form } = $props();
	const format = useFormat();
	const HEARS = { mail: 'email', text: 'text message', call: 'phone call', none: 'no messages' };
</script>

<svelte:head><title>Customers · Tavrek</title></svelte:head>

<div class="slip mb-2.5 flex flex-wrap items-center gap-x-5 gap-y-2">
	<h1>Customers</h1>
	<form method="GET" class="flex flex-1 flex-wrap gap-2" role="search" aria-label="Customers">
		<input
			class="field min-w-52 flex-1"
			name="typed"
			value={data.typed}
			placeholder="name, telephone, mail"
			aria-label="Find a customer"
			autocomplete="off"
		/>
		<button class="btn btn-copper">Find</button>
	</form>
	<a class="btn" href="/messages"
		>Messages{#if data.stuck > 0}<span class="ml-1.5 text-short">✕ {data.stuck}</span>{/if}</a
	>
</div>
{#if data.old > 0}
	<form
		method="POST"
		action="?/erase"
		class="slip mb-2.5 flex flex-wrap items-center gap-3 border-l-[5px] border-l-low"
		use:enhance={({ cancel }) => {
			if (!confirm(`Erase what says who ${data.old} customers are? Their jobs and the books stay.`)) cancel();
		}}
	>
		<p class="flex-1">
			{data.old}
			{nounFor(data.old, 'customer has', 'customers have')} not been here for {data.keptDays} days, which is as
			long as the shop keeps them (Settings).
		</p>
		<button class="btn">Delete them…</button>
	</form>
{/if}
{#if form && 'erased' in form}<p class="slip mb-2.5" role="status">
		● {form.erased}
		{nounFor(form.erased ?? 0, 'customer is', 'customers are')} deleted.
	</p>{/if}
<Problem message={form && 'problem' in form ? (form.problem ?? null) : null} />
<section class="slip overflow-x-auto" aria-label="Found">
	{#if data.customers.length === 0}
		<p class="text-ink-soft">
			{data.typed ? `No customer is called “${data.typed}” or has this phone number.` : 'No customer yet.'}
		</p>
	{:else}
		<table class="ledger">
			<thead
				><tr
					><th>Name</th><th>Telephone</th><th>Mail</th><th>Contact by</th><th class="num">Visits</th><th
						class="num">Last</th
					></tr
				></thead
			>
			<tbody>
				{#each data.customers as customer (customer.id)}
					<tr>
						<td
							><a class="link font-semibold" href="/customers/{customer.id}">{customer.name}</a
							>{customer.kind === 'trade' ? ' · trade' : ''}</td
						>
						<td class="figure">{customer.phone ?? '–'}</td>
						<td>{customer.email ?? '–'}</td>
						<td class="text-ink-soft">{HEARS[customer.hears_by ?? 'call']}</td>
						<td class="num">{customer.tickets}</td>
						<td class="num">{customer.lastAt === null ? '–' : format.date(customer.lastAt)}</td>
					</tr>
				{/each}
			</tbody>
		</table>
		{#if data.customers.length === 50}<p class="mt-1 text-sm text-ink-soft">
				The first 50. Type more of the name or phone number.
			</p>{/if}
	{/if}
</section>
