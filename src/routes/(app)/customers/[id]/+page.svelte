<script lang="ts">
	import { enhance } from '$app/forms';
	import MessageList from '$lib/components/messages/MessageList.svelte';
	import Field from '$lib/components/ui/Field.svelte';
	import Problem from '$lib/components/ui/Problem.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	import { STATE_WORDS } from '$lib/core/tickets/life';
	import { codeWords } from '$lib/core/units/code';
	import { nounFor } from '$lib/core/units/noun';
	let { data, form } = $props();
	const format = useFormat();
	const customer = $derived(data.customer);
	const problems = $derived(
		(form && 'problems' in form ? (form.problems ?? {}) : {}) as Record<string, string>
	);
	const kept = $derived(
		(form && 'kept' in form ? (form.kept ?? null) : null) as Record<string, string> | null
	);
	const HEARS = { mail: 'email', text: 'text message', call: 'phone call', none: 'no messages' };
	const toned = (minor: number) => (minor < 0 ? 'text-short' : '');
</script>

<svelte:head><title>{customer.name} · Tavrek</title></svelte:head>

<div class="slip mb-2.5 flex flex-wrap items-baseline gap-x-7 gap-y-1">
	<h1>{customer.name}</h1>
	<p class="text-ink-soft">
		{customer.tickets}
		{nounFor(customer.tickets, 'visit')}, {data.devices.length}
		{nounFor(data.devices.length, 'device')}{customer.kind === 'trade' ? ', trade' : ''}
	</p>
	{#if data.money}
		<p>
			paid <strong class="figure">{format.money(data.money.paidMinor)}</strong>{#if data.money.owedMinor > 0},
				owes
				<strong class="figure text-low">{format.money(data.money.owedMinor)}</strong>{/if}, profit
			<strong class="figure {toned(data.money.profitMinor)}">{format.money(data.money.profitMinor)}</strong>
		</p>
	{/if}
	<a class="link ml-auto" href="/customers">All customers</a>
</div>
{#if data.doubles.length > 0}
	<section class="slip mb-2.5 border-l-[5px] border-l-low" aria-label="Possible duplicates">
		{#each data.doubles as other (other.id)}
			<form
				method="POST"
				action="?/merge"
				use:enhance={({ cancel }) => {
					if (!confirm(`Make ${customer.name} and ${other.name} one? It cannot be taken back.`)) cancel();
				}}
				class="flex flex-wrap items-center gap-3 py-1"
			>
				<p class="flex-1">
					This may be the same person: <a class="link" href="/customers/{other.id}">{other.name}</a>
					<span class="figure">{other.phone ?? ''}</span>
					{other.email ?? ''}, {other.tickets}
					{nounFor(other.tickets, 'visit')}.
				</p>
				<input type="hidden" name="into" value={other.id} />
				<button class="btn">Merge into this one</button>
			</form>
		{/each}
		<Problem message={problems.into ?? null} />
	</section>
{/if}
<div class="grid items-start gap-2.5 lg:grid-cols-[minmax(0,1.6fr)_minmax(300px,1fr)]">
	<div class="grid gap-2.5">
		<section class="slip overflow-x-auto" aria-labelledby="visits">
			<h2 id="visits">Visits</h2>
			<table class="ledger">
				<thead
					><tr
						><th>Ticket</th><th>Device</th><th>Status</th>{#if data.money}<th class="num">Paid</th><th
								class="num">Profit</th
							>{/if}</tr
					></thead
				>
				<tbody>
					{#each data.visits as visit (visit.number)}
						<tr>
							<td class="whitespace-nowrap"
								><a class="link figure" href="/tickets/{visit.number}">{visit.number}</a><span
									class="block text-sm text-ink-soft">{format.date(visit.openedAt)}</span
								></td
							>
							<td
								>{visit.model}{#if visit.serial}<span class="block text-sm"
										><a class="link figure text-ink-soft" href="/devices/{encodeURIComponent(visit.serial)}"
											>{visit.serial}</a
										></span
									>{/if}</td
							>
							<td
								>{visit.outcome && visit.outcome !== 'fixed'
									? codeWords(visit.outcome)
									: STATE_WORDS[visit.state]}{#if visit.linked}<form
										method="POST"
										action="?/link"
										use:enhance={({ cancel }) => {
											if (!confirm(`End the customer’s link to ${visit.number}? It cannot be opened again.`))
												cancel();
										}}
									>
										<input type="hidden" name="number" value={visit.number} />
										<button class="link text-sm">End the customer’s link</button>
									</form>{/if}</td
							>
							{#if data.money}
								<td class="num">{visit.paidMinor === null ? '–' : format.amount(visit.paidMinor)}</td>
								<td class="num {toned(visit.profitMinor ?? 0)}"
									>{visit.profitMinor === null ? '–' : format.amount(visit.profitMinor)}</td
								>
							{/if}
						</tr>
					{/each}
				</tbody>
			</table>
		</section>
		{#if data.messages.length > 0}
			<section class="slip" aria-labelledby="words">
				<h2 id="words">Messages</h2>
				<MessageList messages={data.messages} />
			</section>
		{/if}
	</div>
	<div class="grid gap-2.5">
		<section class="slip" aria-labelledby="who">
			<h2 id="who">Contact</h2>
			<form
				method="POST"
				action="?/save"
				use:enhance={() =>
					({ update }) =>
						update({ reset: false })}
				class="grid gap-2"
			>
				<Field
					id="name"
					name="name"
					label="Name"
					value={kept?.name ?? customer.name}
					error={problems.name ?? null}
				/>
				<Field id="kind" name="kind" label="Kind" value={kept?.kind ?? customer.kind} select>
					<option value="private">private</option><option value="trade">trade</option>
				</Field>
				<Field
					id="phone"
					name="phone"
					label="Telephone"
					figure
					type="tel"
					value={kept?.phone ?? customer.phone ?? ''}
					error={problems.phone ?? null}
				/>
				<Field
					id="email"
					name="email"
					label="Mail"
					value={kept?.email ?? customer.email ?? ''}
					error={problems.email ?? null}
				/>
				<Field
					id="hears"
					name="hears_by"
					label="Agreed to messages"
					value={kept?.hears_by ?? customer.hears_by ?? 'call'}
					hint="messages go only to customers who agreed"
					select
				>
					{#each data.hears as way (way)}<option value={way}>{HEARS[way]}</option>{/each}
				</Field>
				<Field
					id="language"
					name="language"
					label="Language"
					value={kept?.language ?? customer.language ?? ''}
					hint="two letters, such as de. Default: the shop’s language."
					error={problems.language ?? null}
				/>
				<div class="flex items-center gap-3">
					<button class="btn btn-copper">Save</button>
					{#if form && 'saved' in form}<span role="status">● Saved</span>{/if}
				</div>
			</form>
		</section>
		<section class="slip" aria-labelledby="data">
			<h2 id="data">Customer data</h2>
			<p class="mb-2 text-sm text-ink-soft">
				On the customer’s request: export what is kept, or delete name and contact. Jobs, measurements and
				accounts stay, without a name.
			</p>
			<div class="flex flex-wrap gap-2">
				<a class="btn" href="/customers/{customer.id}/export" download>Export</a>
				{#if data.manager}
					<form
						method="POST"
						action="?/erase"
						use:enhance={({ cancel }) => {
							if (!confirm(`Erase what says who ${customer.name} is? It cannot be brought back.`)) cancel();
						}}
					>
						<button class="btn">Delete…</button>
					</form>
				{/if}
			</div>
			<Problem message={problems.id ?? null} />
		</section>
	</div>
</div>
