<script lang="ts">
	import { codeEntry } from '$lib/core/units/code';
	import Field from '$lib/components/ui/Field.svelte';
	import { onMount } from 'svelte';
	import { goto } from '$app/navigation';
	import CounterWord from '$lib/components/counter/CounterWord.svelte';
	import CustomerFields from '$lib/components/counter/CustomerFields.svelte';
	import DeviceFields from '$lib/components/counter/DeviceFields.svelte';
	import { Intake } from '$lib/components/counter/intake.svelte';
	import PromiseFields from '$lib/components/counter/PromiseFields.svelte';
	import { instantOfField } from '$lib/components/ui/local-time';
	import Problem from '$lib/components/ui/Problem.svelte';
	import SignRow from '$lib/components/ui/SignRow.svelte';
	import { refusalWords } from '$lib/core/tickets/refusal-words';
	import { isOpen } from '$lib/core/units/calendar';
	let { data } = $props();

	const intake = new Intake();
	const promisedAt = $derived(
		intake.fields.promised ? instantOfField(intake.fields.promised, data.shop.timeZone) : null
	);
	/** nothing is promised for a time at which nobody is there */
	const closed = $derived(
		promisedAt !== null &&
			!isOpen(promisedAt, data.shop.opening) &&
			!isOpen(promisedAt - 1, data.shop.opening)
	);
	let ready = false;
	onMount(() => {
		intake.restore();
		ready = true;
		document.getElementById('customer')?.focus();
	});
	$effect(() => {
		JSON.stringify(intake.fields);
		if (ready) intake.keep();
	});

	/** @param another one more device of the same customer follows */
	async function takeIn(event?: SubmitEvent, another = false) {
		event?.preventDefault();
		if (intake.sending) return;
		if (closed) {
			document.getElementById('promised')?.querySelector<HTMLElement>('[role=spinbutton]')?.focus();
			return;
		}
		const number = await intake.takeIn(promisedAt);
		if (!number) {
			const field = intake.problem?.field.split('.').at(-1) ?? '';
			document.getElementById({ name: 'customer', label: 'model' }[field] ?? field)?.focus();
			return;
		}
		if (another) {
			intake.another(number);
			document.getElementById('model')?.focus();
			return;
		}
		intake.clear();
		await goto(`/tickets/${number}`);
	}
	function keys(event: KeyboardEvent) {
		if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
			event.preventDefault();
			void takeIn(undefined, event.shiftKey);
		}
	}
	const kinds = [
		{ kind: 'symptom', title: 'Symptoms' },
		{ kind: 'history', title: 'History' },
		{ kind: 'visual', title: 'On inspection' }
	] as const;
	const about = (...fields: string[]) =>
		fields.includes(intake.problem?.field ?? '') ? intake.problem?.message : null;
	const elsewhere = $derived(
		intake.problem &&
			!['customer', 'customer.name', 'model', 'model.label', 'connector'].includes(intake.problem.field)
			? refusalWords(intake.problem)
			: null
	);
	function setSign(code: string, present: boolean | null) {
		const { [code]: _, ...others } = intake.fields.signs;
		intake.fields.signs = present === null ? others : { ...others, [code]: present };
	}
</script>

<svelte:window onkeydown={keys} />
<svelte:head><title>Counter · Tavrek</title></svelte:head>

<form onsubmit={takeIn} class="grid items-start gap-3 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)]">
	<div class="grid gap-3">
		<section class="slip" aria-labelledby="who">
			<div class="mb-2 flex items-baseline justify-between gap-3">
				<h1 id="who">Take in</h1>
				{#if data.role !== 'technician'}<a class="link text-sm" href="/customers">Customers</a>{/if}
			</div>
			{#if intake.before.length > 0}
				<p class="mb-2 border-l-[5px] border-copper bg-wash px-3 py-1.5" role="status">
					Taken in of {intake.fields.customer}: {#each intake.before as number (number)}<a
							class="link figure mr-2"
							href="/tickets/{number}">{number}</a
						>{/each}
				</p>
			{/if}
			<CustomerFields {intake} problem={about('customer', 'customer.name')} />
		</section>
		<section class="slip" aria-label="Device">
			<DeviceFields
				{intake}
				models={data.models}
				connectors={data.connectors}
				problem={about('model', 'model.label', 'connector')}
			/>
		</section>
		<CounterWord {intake} timeZone={data.shop.timeZone} {promisedAt} />
		<section class="slip" aria-label="Promise">
			<PromiseFields {intake} now={data.now} {closed} />
		</section>
	</div>
	<section class="slip" aria-labelledby="signs">
		<div class="mb-1 flex items-baseline justify-between">
			<h2 id="signs">
				Ask the customer: <span class="key">Y</span> yes, <span class="key">N</span> no. Leave blank what you did
				not ask.
			</h2>
		</div>
		<div class="grid gap-x-6 gap-y-2 sm:grid-cols-2">
			{#each kinds as { kind, title } (kind)}
				<div class={kind === 'history' ? 'sm:row-span-2' : ''}>
					<h2 class="text-ink">{title}</h2>
					{#each data.signs.filter((sign) => sign.kind === kind) as sign (sign.code)}
						<SignRow
							label={sign.label}
							value={codeEntry(intake.fields.signs, sign.code) ?? null}
							onchange={(present) => setSign(sign.code, present)}
						/>
					{/each}
				</div>
			{/each}
		</div>
		<div class="mt-3 grid gap-2">
			{#if intake.fields.kind === 'trade'}
				<Field id="claim" label="Sent by a shop that claims" bind:value={intake.fields.claim} select>
					<option value={null}>nothing</option>
					{#each data.faults as { code, label } (code)}<option value={code}>{label}</option>{/each}
				</Field>
			{/if}
			<Field id="reported" label="In the customer’s own words" rows={2} bind:value={intake.fields.reported} />
			<div class="grid gap-2 sm:grid-cols-2">
				<Field id="condition" label="Condition on arrival" rows={2} bind:value={intake.fields.condition} />
				<Field id="accessories" label="Accessories" rows={2} bind:value={intake.fields.accessories} />
			</div>
		</div>
		<div
			class="sticky bottom-0 z-10 -mx-3.5 mt-3 flex flex-wrap items-center gap-3 bg-paper px-3.5 py-2 sm:static sm:mx-0 sm:px-0"
		>
			<button class="btn btn-copper px-6" disabled={intake.sending}
				>Take in <span class="key">Ctrl Enter</span></button
			>
			<button type="button" class="btn" disabled={intake.sending} onclick={() => takeIn(undefined, true)}
				>Take in and add another</button
			>
			<button type="button" class="btn" onclick={() => intake.clear()}>Clear</button>
			<Problem message={elsewhere} />
		</div>
	</section>
</form>
