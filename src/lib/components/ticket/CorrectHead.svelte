<script lang="ts">
	import { codeEntry } from '$lib/core/units/code';
	import Field from '../ui/Field.svelte';
	import MomentField from '../ui/MomentField.svelte';
	import { untrack } from 'svelte';
	import { MATTERS } from '$lib/core/tickets/ticket-entries';
	import { amountProblem, parseAmount } from '$lib/core/units/money';
	import { readNumberWithin } from '$lib/core/units/typed-number';
	import type { BenchCatalog } from '$lib/server/catalog/bench-catalog';
	import { fieldOfInstant, instantOfField } from '../ui/local-time';
	import { useShop } from '../ui/shop-context';
	import ModalSlip from '../ui/ModalSlip.svelte';
	import SignRow from '../ui/SignRow.svelte';
	import { useDesk } from './desk.svelte';

	/** Corrects what was written when the device was taken in. The trail keeps what it said before. */
	let { open = $bindable(false), bench }: { open: boolean; bench: BenchCatalog } = $props();
	const desk = useDesk();
	const shop = useShop();
	const blank = {
		name: '',
		kind: 'private' as 'private' | 'trade',
		phone: '',
		email: '',
		model: '',
		serial: '',
		promised: '',
		matters: '' as '' | (typeof MATTERS)[number],
		worth: '',
		year: '',
		reported: '',
		condition: '',
		accessories: ''
	};
	let fields = $state({ ...blank });
	let first = $state.raw({ ...blank });
	let problem = $state('');
	// when it opens, not when the ticket moves on meanwhile: what is typed stays
	$effect(() => {
		if (open) untrack(begin);
	});
	function begin() {
		const { ticket } = desk.view;
		const { name = '', kind = 'private', phone = '', email = '' } = ticket.customer ?? {};
		first = {
			name,
			kind,
			phone,
			email,
			model: ticket.model,
			serial: ticket.serial ?? '',
			promised: ticket.promisedAt === null ? '' : fieldOfInstant(ticket.promisedAt, bench.timeZone),
			matters: ticket.matters ?? '',
			worth: ticket.worthMinor === undefined ? '' : (ticket.worthMinor / 100).toFixed(2),
			year: ticket.year === undefined ? '' : String(ticket.year),
			reported: ticket.reported ?? '',
			condition: ticket.condition ?? '',
			accessories: ticket.accessories ?? ''
		};
		fields = { ...first };
		problem = '';
	}
	const said = $derived(
		(Object.keys(blank) as (keyof typeof blank)[]).filter((field) => fields[field] !== first[field])
	);
	const kinds = [
		{ kind: 'symptom', title: 'Symptoms' },
		{ kind: 'history', title: 'History' },
		{ kind: 'visual', title: 'On inspection' }
	] as const;

	async function correct(event: SubmitEvent) {
		event.preventDefault();
		const changed = new Set(said);
		if (changed.size === 0) {
			open = false;
			return;
		}
		const { name, kind, phone, email, promised, matters, worth, year, ...words } = $state.snapshot(fields);
		if (['name', 'kind', 'phone', 'email'].some((field) => changed.has(field as never)) && !name.trim()) {
			problem = 'Customer is empty. Write the customer’s name.';
			return;
		}
		const worthMinor = worth.trim() === '' ? null : parseAmount(worth, shop.locale);
		if (worth.trim() !== '' && worthMinor === null) {
			problem = `Worth ${amountProblem(worth)}, or leave it empty to use the model’s worth`;
			return;
		}
		const yearMade = year.trim() === '' ? null : readNumberWithin(year, 1950, 2200);
		if (year.trim() !== '' && (yearMade === null || !Number.isInteger(yearMade))) {
			problem = `Year is “${year}”; write the year of manufacture, such as 2021`;
			return;
		}
		const texts = Object.fromEntries(
			Object.entries(words).filter(([field]) => changed.has(field as keyof typeof blank))
		);
		const { language, hears_by } = desk.view.ticket.customer ?? {};
		const customer = {
			name,
			kind,
			...(phone ? { phone } : {}),
			...(email ? { email } : {}),
			...(language ? { language } : {}),
			...(hears_by ? { hears_by } : {})
		};
		const made = await desk.send({
			verb: 'correct',
			...texts,
			...(said.some((field) => ['name', 'kind', 'phone', 'email'].includes(field)) ? { customer } : {}),
			...(changed.has('matters') && matters !== '' ? { matters } : {}),
			...(changed.has('worth') ? { worthMinor } : {}),
			...(changed.has('year') ? { year: yearMade } : {}),
			...(changed.has('promised')
				? { promisedAt: promised ? instantOfField(promised, bench.timeZone) : null }
				: {})
		});
		if (made) open = false;
		else problem = 'Not saved. See the message above the ticket.';
	}
</script>

<ModalSlip bind:open title="Correct {desk.view.ticket.number}" wide>
	<form onsubmit={correct} class="grid gap-3 sm:grid-cols-2">
		<Field id="c-name" label="Customer" bind:value={fields.name} maxlength={200} autocomplete="off" />
		<div class="grid grid-cols-2 gap-2">
			<Field id="c-kind" label="Kind" bind:value={fields.kind} select
				><option>private</option><option>trade</option></Field
			>
			<Field
				id="c-phone"
				label="Telephone"
				figure
				bind:value={fields.phone}
				maxlength={64}
				autocomplete="off"
			/>
		</div>
		<Field id="c-model" label="Model" bind:value={fields.model} select>
			{#each bench.models as { code, label } (code)}<option value={code}>{label}</option>{/each}
		</Field>
		<div class="grid grid-cols-2 gap-2">
			<Field
				id="c-serial"
				label="Serial"
				figure
				bind:value={fields.serial}
				maxlength={64}
				autocomplete="off"
			/>
			<Field id="c-matters" label="What matters" bind:value={fields.matters} select>
				<option value="">not said</option>
				{#each MATTERS as matter (matter)}<option>{matter}</option>{/each}
			</Field>
		</div>
		<MomentField
			id="c-promised"
			label="Promised for (shop’s time)"
			now={desk.view.now}
			bind:text={fields.promised}
		/>
		<div class="grid grid-cols-2 gap-2">
			<Field
				id="c-worth"
				label="Worth of this device"
				figure
				inputmode="decimal"
				bind:value={fields.worth}
				hint="Default: the worth of the model."
			/>
			<Field id="c-year" label="Year of manufacture" figure inputmode="numeric" bind:value={fields.year} />
		</div>
		<Field
			id="c-email"
			label="Mail"
			bind:value={fields.email}
			maxlength={200}
			autocomplete="off"
			class="sm:col-span-2"
		/>
		<Field
			id="c-reported"
			label="In the customer’s own words"
			rows={2}
			maxlength={4000}
			bind:value={fields.reported}
			class="sm:col-span-2"
		/>
		<Field
			id="c-condition"
			label="Condition on arrival"
			rows={2}
			maxlength={4000}
			bind:value={fields.condition}
		/>
		<Field id="c-accessories" label="Accessories" rows={2} maxlength={4000} bind:value={fields.accessories} />
		<details class="sm:col-span-2">
			<summary class="cursor-pointer font-semibold">Symptoms, history and inspection</summary>
			<p class="text-sm text-ink-soft">Saved at once.</p>
			<div class="mt-1 grid gap-x-6 gap-y-1 sm:grid-cols-2">
				{#each kinds as { kind, title } (kind)}
					<section aria-label="{title}, corrected">
						<h3 class="text-sm font-semibold">{title}</h3>
						{#each bench.signs.filter((sign) => sign.kind === kind) as sign (sign.code)}
							<SignRow
								label={sign.label}
								value={codeEntry(desk.ticket.signs, sign.code) ?? null}
								onchange={(present) => desk.send({ verb: 'sign', sign: sign.code, present })}
							/>
						{/each}
					</section>
				{/each}
			</div>
		</details>
		<div class="flex items-center gap-3 sm:col-span-2">
			<button class="btn btn-copper">Save corrections</button>
			<p role="alert" class="font-semibold text-short empty:hidden">{problem}</p>
		</div>
	</form>
</ModalSlip>
