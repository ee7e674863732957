<script lang="ts">
	import Field from '$lib/components/ui/Field.svelte';
	import { HOURS_HINT } from '$lib/core/catalog/form-fields';
	import { enhance } from '$app/forms';
	import { ImportRun } from '$lib/components/ui/import-run.svelte';
	import PicturesBack from '$lib/components/settings/PicturesBack.svelte';
	import Problem from '$lib/components/ui/Problem.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	let { data, form } = $props();
	const format = useFormat();
	const kept = $derived<Record<string, string> | undefined>(form?.kept);
	const problems = $derived<Record<string, string>>(form?.problems ?? {});
	const run = new ImportRun();
	let files = $state<FileList>();
	let lenient = $state(false);
	const PARTS = { reading: 'Reading', checking: 'Checking what it names', writing: 'Writing' };
	const WORKERS: Record<string, string> = {
		shop: 'Floor, plans, odds',
		returns: 'Comebacks',
		free: 'Schedules and meter logs'
	};
	const now = Date.now();
	/** the shop's own policy; what is left empty is as usual */
	const POLICY = [
		{
			name: 'data_worth',
			label: 'Extra loss when the data matters',
			hint: 'what giving up such a device costs beyond the job. Default 0.'
		},
		{ name: 'price_step', label: 'Prices in steps of', hint: 'Default 1.00.' },
		{
			name: 'diagnosis_fee',
			label: 'Diagnosis fee',
			hint: 'Charged when nothing is repaired. Default 0.'
		},
		{ name: 'deposit_share', label: 'Deposit, % of the price', hint: 'Default 0.' },
		{
			name: 'warranty_days',
			label: 'Warranty, days',
			hint: 'Default 90. A repair can set its own.'
		},
		{
			name: 'keep_customers',
			label: 'Keep customers, days',
			hint: 'After the last visit. Default 1095.'
		},
		{
			name: 'page_days',
			label: 'Customer’s page online, days',
			hint: 'After pick-up. Default 30.'
		},
		{ name: 'offer_days', label: 'Offer valid, days', hint: 'Default 14.' },
		{ name: 'invoice_days', label: 'Invoice due in, days', hint: 'Default 14.' },
		{ name: 'service', label: 'Availability target, %', hint: 'Default 95.' },
		{ name: 'holding_share', label: 'Holding cost, % a year', hint: 'Default 25.' }
	] as const;
</script>

<svelte:head><title>Settings · Tavrek</title></svelte:head>

<div class="grid items-start gap-3 lg:grid-cols-2">
	<section class="slip" aria-labelledby="shop-title">
		<h1 id="shop-title" class="mb-2">Shop</h1>
		<form
			method="POST"
			action="?/shop"
			class="grid grid-cols-2 gap-3"
			use:enhance={() =>
				({ update }) =>
					update({ reset: false })}
		>
			<input type="hidden" name="version" value={data.version ?? ''} />
			<Field
				id="name"
				label="Name"
				name="name"
				required
				value={kept?.name ?? data.shop.name}
				class="col-span-2"
				error={problems.name ?? null}
			/>
			<Field
				id="currency"
				label="Currency"
				name="currency"
				value={kept?.currency ?? data.shop.currency}
				select
			>
				{#each data.currencies as currency (currency)}<option>{currency}</option>{/each}
			</Field>
			<Field
				id="locale"
				label="Language and region"
				name="locale"
				required
				value={kept?.locale ?? data.shop.locale}
				error={problems.locale ?? null}
			/>
			<Field
				id="time_zone"
				label="Time zone"
				name="time_zone"
				list="zones"
				required
				value={kept?.time_zone ?? data.shop.timeZone}
				error={problems.time_zone ?? problems.version ?? null}
				class="col-span-2"
			>
				<datalist id="zones"
					>{#each data.zones as zone (zone)}<option value={zone}></option>{/each}</datalist
				>
			</Field>
			{#each POLICY as { name, label, hint } (name)}
				<Field
					id={name}
					{name}
					{label}
					{hint}
					figure
					inputmode="decimal"
					value={kept?.[name] ?? data.policy[name]}
					error={problems[name] ?? null}
					class={name === 'data_worth' ? 'col-span-2' : ''}
				/>
			{/each}
			<Field
				id="tax_label"
				name="tax_label"
				label="Tax included in prices, name"
				value={kept?.tax_label ?? data.tax.tax_label}
				error={problems.tax ?? null}
				hint="such as VAT. Leave both empty for no tax."
			/>
			<Field
				id="tax_percent"
				name="tax_percent"
				label="Tax rate, %"
				figure
				inputmode="decimal"
				value={kept?.tax_percent ?? data.tax.tax_percent}
				hint="For payments from now on. Past payments keep their rate."
			/>
			<fieldset class="col-span-2 grid grid-cols-2 gap-3 sm:grid-cols-4">
				<legend class="label">Warranty on parts by source, days. Default: same as the work.</legend>
				{#each data.sources as source (source)}
					<Field
						id="part_warranty_{source}"
						name="part_warranty_{source}"
						label={source}
						figure
						inputmode="numeric"
						value={kept?.[`part_warranty_${source}`] ?? data.partWarranty[`part_warranty_${source}`] ?? ''}
						error={problems.part_warranty ?? null}
					/>
				{/each}
			</fieldset>
			<Field
				id="hours"
				name="hours"
				label="Opening hours"
				rows={7}
				look="figure"
				value={kept?.hours ?? data.opening.hours}
				error={problems.hours ?? null}
				hint="{HOURS_HINT}. Default: 9 to 6 with an hour at noon, closed on Sundays."
				class="col-span-2"
			/>
			<Field
				id="closed_days"
				name="closed_days"
				label="Extra closed days"
				figure
				value={kept?.closed_days ?? data.opening.closed_days}
				error={problems.closed_days ?? null}
				hint="such as 2026-12-25, separated by spaces"
				class="col-span-2"
			/>
			<p class="col-span-2 text-sm text-ink-soft">
				Preview: {format.money(123450)}, {format.moment(now)}.
			</p>
			<div class="col-span-2 flex items-center gap-3">
				<button class="btn btn-copper">Save</button>
				{#if form?.saved}<span role="status" class="text-agrees">● Saved</span>{/if}
			</div>
		</form>
	</section>
	<section class="slip" aria-labelledby="data-title">
		<h1 id="data-title" class="mb-2">Import and export</h1>
		<p class="mb-2">
			Export and import everything the shop records as JSON Lines, the open format described in
			docs/exchange.md. Passcodes, accounts and tokens are not included.
		</p>
		<p class="mb-4 flex flex-wrap gap-2">
			<a class="btn" href="/settings/export" data-sveltekit-reload>Export everything</a>
			<a class="btn" href="/settings/pictures" data-sveltekit-reload>Export the pictures as a ZIP</a>
		</p>
		<PicturesBack />
		<form
			onsubmit={(event) => {
				event.preventDefault();
				const file = files?.[0];
				if (file) void run.start(file, lenient ? 'lenient' : 'strict');
				else run.problem = 'Choose a file of JSON Lines first.';
			}}
		>
			<label class="label" for="file">Import a file</label>
			<input
				class="field"
				id="file"
				type="file"
				bind:files
				disabled={run.running}
				accept=".jsonl,.ndjson,.json,application/x-ndjson"
			/>
			<label class="mt-2 flex items-start gap-2">
				<input type="checkbox" class="mt-1" bind:checked={lenient} disabled={run.running} />
				<span>Import the valid lines even if others are refused. Otherwise all or nothing.</span>
			</label>
			<div class="mt-2 flex items-center gap-3">
				<button class="btn" disabled={run.running}>Import</button>
				{#if run.running}
					<button type="button" class="btn" onclick={() => run.stop()}>Stop</button>
				{/if}
			</div>
		</form>
		{#if run.running}
			<div class="mt-3" role="status">
				{#if run.progress}
					<label class="label" for="import-progress">{PARTS[run.progress.part]}</label>
					<progress
						id="import-progress"
						class="block w-full"
						max={Math.max(1, run.progress.of)}
						value={run.progress.rows}
					></progress>
					<span class="figure text-sm">{run.progress.rows}</span> of
					<span class="figure text-sm">{run.progress.of}</span> lines. Others can keep working.
				{:else}Uploading…{/if}
			</div>
		{/if}
		<div aria-live="polite" class="mt-3">
			<Problem message={run.problem} />
			{#if run.answer}
				{@const { accepted, rejected } = run.answer}
				{#if rejected.length > 0 && run.mode === 'strict'}
					<p class="font-semibold text-short">
						✕ Nothing was imported. Correct these lines and import the file again.
					</p>
				{:else}
					<p class="text-agrees">
						● Imported: {Object.entries(accepted)
							.map(([kind, n]) => `${n} ${kind}`)
							.join(', ') || 'nothing'}.
					</p>
				{/if}
				{#if rejected.length > 0}
					<table class="ledger mt-1">
						<thead><tr><th class="num">Line</th><th>Field</th><th>Problem</th></tr></thead>
						<tbody>
							{#each rejected as error, i (i)}
								<tr
									><td class="num">{error.line}</td><td class="figure text-sm">{error.path}</td><td
										>{error.message}</td
									></tr
								>
							{/each}
						</tbody>
					</table>
				{/if}
			{/if}
		</div>
	</section>
	<section class="slip lg:col-span-2" aria-labelledby="workers-title">
		<h2 id="workers-title" class="mb-1">Background work</h2>
		{#if data.workers.length === 0}
			<p class="text-ink-soft">No background work since the start.</p>
		{:else}
			<table class="ledger">
				<thead
					><tr
						><th>Worker</th><th>Now</th><th class="num">Waiting</th><th class="num">Answered</th><th
							class="num">Refused</th
						><th class="num">Timed out</th></tr
					></thead
				>
				<tbody>
					{#each data.workers as worker (worker.name)}
						<tr>
							<td>{WORKERS[worker.name] ?? worker.name}</td>
							<td
								>{worker.running.map(({ kind, seconds }) => `${kind}, ${seconds.toFixed(1)} s`).join('; ') ||
									'idle'}</td
							>
							<td class="num">{worker.waiting}</td>
							<td class="num">{worker.answered}</td>
							<td class="num">{worker.refused}</td>
							<td class="num">{worker.ended}</td>
						</tr>
					{/each}
				</tbody>
			</table>
		{/if}
	</section>
</div>
