<script lang="ts">
	import { codeWords } from '$lib/core/units/code';
	import Field from '$lib/components/ui/Field.svelte';
	import { goto } from '$app/navigation';
	import { standingWords } from '$lib/components/ui/standing-words';
	import { useFormat } from '$lib/components/ui/shop-context';
	let { data } = $props();
	const format = useFormat();
	let timer: ReturnType<typeof setTimeout> | undefined;
	function narrow(form: HTMLFormElement, wait = 0) {
		clearTimeout(timer);
		timer = setTimeout(() => {
			const query = new URLSearchParams(new FormData(form) as unknown as Record<string, string>);
			void goto(`/tickets?${query}`, { keepFocus: true, replaceState: true, noScroll: true });
		}, wait);
	}
	const older = $derived.by(() => {
		const last = data.rows.at(-1);
		if (!data.more || !last) return null;
		const { text, state, model } = data.asked;
		return `/tickets?${new URLSearchParams({ text, state, model, before: String(last.openedAt) })}`;
	});
</script>

<svelte:head><title>Tickets · Tavrek</title></svelte:head>

<div class="slip">
	<form
		class="mb-3 flex flex-wrap items-end gap-3"
		onsubmit={(event) => {
			event.preventDefault();
			narrow(event.currentTarget);
		}}
	>
		<h1 class="mr-4 self-center">Tickets</h1>
		<Field
			id="text"
			label="Number, serial, name, phone or model"
			name="text"
			value={data.asked.text}
			oninput={(event) => narrow(event.currentTarget.form!, 250)}
			class="w-72"
		/>
		<Field
			id="state"
			label="State"
			name="state"
			value={data.asked.state}
			onchange={(event) => narrow(event.currentTarget.form!)}
			select
		>
			<option value="all">open and closed</option><option value="open">open</option><option value="closed"
				>closed</option
			>
		</Field>
		<Field
			id="model"
			label="Model"
			name="model"
			value={data.asked.model}
			onchange={(event) => narrow(event.currentTarget.form!)}
			select
		>
			<option value="">any</option>
			{#each data.models as { code, label } (code)}<option value={code}>{label}</option>{/each}
		</Field>
		<noscript><button class="btn">Find</button></noscript>
	</form>
	{#if data.rows.length === 0}
		<p class="py-6 text-ink-soft">
			No ticket found. Try fewer letters or another state. New devices are taken in at the <a
				class="link"
				href="/counter">counter</a
			>.
		</p>
	{:else}
		<div class="overflow-x-auto">
			<table class="ledger">
				<thead
					><tr
						><th>Number</th><th>Opened</th><th>Model</th><th>Serial</th><th>Customer</th><th>Status</th><th
							>Found</th
						><th class="num">Quoted</th></tr
					></thead
				>
				<tbody>
					{#each data.rows as row (row.number)}
						<tr>
							<td><a class="link figure" href="/tickets/{row.number}">{row.number}</a></td>
							<td class="whitespace-nowrap">{format.date(row.openedAt)}</td>
							<td>{row.model}</td>
							<td class="figure text-sm whitespace-nowrap"
								>{#if row.serial}<a class="link" href="/devices/{encodeURIComponent(row.serial)}"
										>{row.serial}</a
									>{/if}</td
							>
							<td>{row.customer ?? ''}</td>
							<td>
								{#if row.closedAt !== null}<span class="text-ink-soft"
										>{codeWords(row.outcome ?? '')}, {format.date(row.closedAt)}; {standingWords(
											row,
											format
										)}</span
									>
								{:else}<strong>{standingWords(row, format)}</strong>{/if}
								{#if row.comebackOf}<span class="text-high"> △ comeback</span>{/if}
							</td>
							<td class="text-sm">{row.faults.join(', ')}</td>
							<td class="num">{row.quotedMinor === null ? '' : format.amount(row.quotedMinor)}</td>
						</tr>
					{/each}
				</tbody>
			</table>
		</div>
		{#if older}<p class="mt-3"><a class="btn btn-small" href={older}>Older tickets</a></p>{/if}
	{/if}
</div>
