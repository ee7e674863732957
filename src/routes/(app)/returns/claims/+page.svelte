<script lang="ts">
	import { enhance } from '$app/forms';
	import ReturnsNav from '$lib/components/returns/ReturnsNav.svelte';
	import Problem from '$lib/components/ui/Problem.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	import { codeWords } from '$lib/core/units/code';
	let { data, form } = $props();
	const format = useFormat();
	const problems = $derived((form?.problems ?? {}) as Record<string, string>);
	const kept = $derived((form?.kept ?? {}) as Record<string, string>);
	const unsaid = $derived(data.back.filter(({ cause }) => cause === null).length);
	const PAYS = { shop: 'the shop', supplier: 'its supplier', customer: 'the customer' };
	const problemAt = (ticket: string, sku: string) =>
		kept.ticket === ticket && kept.sku === sku ? (Object.values(problems)[0] ?? null) : null;
</script>

<svelte:head><title>Comebacks and claims · Tavrek</title></svelte:head>

<div class="slip mb-2.5 flex flex-wrap items-baseline gap-x-7 gap-y-1">
	<h1>Comebacks and claims</h1>
	<p class="text-ink-soft">
		{unsaid === 0
			? 'Every comeback has a cause.'
			: `${unsaid} of the last ${data.back.length} have no cause yet: open the ticket, “Why it came back”.`}
	</p>
	<ReturnsNav here="comebacks" />
</div>
<div class="grid items-start gap-2.5 {data.claims ? 'lg:grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)]' : ''}">
	<section class="slip overflow-x-auto" aria-labelledby="back">
		<h2 id="back">Latest comebacks</h2>
		{#if data.back.length === 0}<p class="text-ink-soft">
				No comeback yet. Link a device to its first ticket at the counter, or with “Correct” on its ticket.
			</p>{:else}
			<table class="ledger">
				<thead
					><tr><th>Ticket</th><th>Device</th><th class="num">After days</th><th>Why</th><th>Pays</th></tr
					></thead
				>
				<tbody>
					{#each data.back as row (row.number)}
						<tr class={row.cause === null ? 'bg-wash' : ''}>
							<td class="whitespace-nowrap"
								><a class="link figure" href="/tickets/{row.number}">{row.number}</a>
								<span class="block text-sm text-ink-soft"
									>of <a class="link figure" href="/tickets/{row.first}">{row.first}</a></span
								></td
							>
							<td
								>{row.model}<span class="block text-sm text-ink-soft"
									>{format.date(row.openedAt)}{row.closed ? '' : ', open'}</span
								></td
							>
							<td class="num">{row.daysAfter === null ? '–' : row.daysAfter.toFixed(0)}</td>
							<td>{row.cause ?? 'No cause yet'}</td>
							<td
								>{row.pays ? PAYS[row.pays] : '–'}
								{#if row.toClaim}
									<form
										method="POST"
										action="?/claim"
										use:enhance
										class="mt-1 flex flex-wrap items-center gap-1"
									>
										<input type="hidden" name="ticket" value={row.number} />
										<input type="hidden" name="sku" value={row.toClaim.sku} />
										<input
											class="field figure w-20"
											name="amount"
											inputmode="decimal"
											aria-label="Amount to claim for {row.toClaim.label} of {row.number}"
											value={problemAt(row.number, row.toClaim.sku)
												? kept.amount
												: (row.toClaim.costMinor / 100).toFixed(2)}
										/>
										<button class="btn btn-small">Claim</button>
										<Problem message={problemAt(row.number, row.toClaim.sku)} />
									</form>
								{/if}</td
							>
						</tr>
					{/each}
				</tbody>
			</table>
		{/if}
		{#if data.own.length > 0}
			<h2 class="mt-3">Damage during repair, found the same day</h2>
			<ul>
				{#each data.own as { number, faults } (number)}
					<li><a class="link figure" href="/tickets/{number}">{number}</a> {faults.join(', ')}</li>
				{/each}
			</ul>
		{/if}
	</section>
	{#if data.claims}
		<section class="slip overflow-x-auto" aria-labelledby="claims">
			<h2 id="claims">Supplier claims</h2>
			<p class="mb-1 text-ink-soft">
				Open <strong class="figure text-ink">{format.money(data.claims.openMinor)}</strong>, granted
				<span class="figure">{format.money(data.claims.grantedMinor)}</span>, refused
				<span class="figure">{format.money(data.claims.refusedMinor)}</span>.
			</p>
			{#if data.claims.rows.length === 0}<p class="text-ink-soft">
					No claim yet. When you record why a device came back, choose that the supplier pays; the claim is
					then listed here with its amount.
				</p>{:else}
				<table class="ledger">
					<thead><tr><th>Part</th><th>Ticket</th><th class="num">Amount</th><th>Answer</th></tr></thead>
					<tbody>
						{#each data.claims.rows as row (`${row.ticket} ${row.sku}`)}
							<tr>
								<td
									>{row.label}<span class="block text-sm text-ink-soft"
										>{row.supplierLabel ?? 'no supplier'}{#if row.lot}<span class="whitespace-nowrap">
												{' '}· {row.lot}</span
											>{/if}</span
									></td
								>
								<td class="whitespace-nowrap"
									><a class="link figure" href="/tickets/{row.ticket}">{row.ticket}</a><span
										class="block text-sm text-ink-soft">{format.date(row.at)}</span
									></td
								>
								<td class="num">{format.amount(row.amountMinor)}</td>
								<td>
									{#if row.state === 'open'}
										<form
											method="POST"
											action="?/settle"
											use:enhance
											class="flex flex-wrap items-center gap-1"
										>
											<input type="hidden" name="ticket" value={row.ticket} />
											<input type="hidden" name="sku" value={row.sku} />
											<input type="hidden" name="version" value={row.version} />
											<input
												class="field figure w-20"
												name="granted"
												inputmode="decimal"
												aria-label="Granted for {row.label} of {row.ticket}"
												value={(row.amountMinor / 100).toFixed(2)}
											/>
											<button class="btn btn-small" name="state" value="granted">Granted</button>
											<button class="btn btn-small" name="state" value="refused">Refused</button>
											<Problem message={problemAt(row.ticket, row.sku)} />
										</form>
									{:else}
										{codeWords(row.state)}{row.grantedMinor === null
											? ''
											: ` ${format.amount(row.grantedMinor)}`}
									{/if}
								</td>
							</tr>
						{/each}
					</tbody>
				</table>
			{/if}
		</section>
	{/if}
</div>
