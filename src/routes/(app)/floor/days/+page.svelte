<script lang="ts">
	import { enhance } from '$app/forms';
	import DayField from '$lib/components/ui/DayField.svelte';
	import Field from '$lib/components/ui/Field.svelte';
	import { useFormat } from '$lib/components/ui/shop-context';
	let { data, form } = $props();
	const format = useFormat();
	const manager = $derived(data.user.role === 'manager');
	const nameOf = (code: string) => data.technicians.find((person) => person.code === code)?.name ?? code;
	const problems = $derived(
		(form && 'problems' in form ? form.problems : null) as Record<string, string> | null
	);
	const made = $derived(form && 'link' in form ? form.link : null);
</script>

<svelte:head><title>Absences and calendars · Tavrek</title></svelte:head>

<div class="slip mb-3">
	<h1><a class="hover:underline" href="/floor">Floor</a> · absences and calendars</h1>
</div>
<div class="grid items-start gap-3 lg:grid-cols-2">
	<section class="slip" aria-labelledby="away">
		<h2 id="away" class="mb-2 text-ink">Absences</h2>
		{#if data.absences.length === 0}<p class="text-ink-soft">No absence is planned.</p>{/if}
		<ul>
			{#each data.absences as absence (`${absence.technician} ${absence.from}`)}
				<li class="flex items-center justify-between gap-3 border-b border-edge py-1">
					<span
						><strong>{nameOf(absence.technician)}</strong>
						{format.day(absence.from)}{absence.to - absence.from > 90_000_000
							? ` to ${format.day(absence.to - 1)}`
							: ''}{absence.why ? `, ${absence.why}` : ''}</span
					>
					{#if manager}
						<form method="POST" action="?/back" use:enhance>
							<input type="hidden" name="technician" value={absence.technician} />
							<input type="hidden" name="from" value={absence.from} />
							<button class="btn btn-small">Cancel absence</button>
						</form>
					{/if}
				</li>
			{/each}
		</ul>
		{#if manager}
			<form method="POST" action="?/away" class="mt-3 grid gap-2 sm:grid-cols-2" use:enhance>
				<Field id="technician" name="technician" label="Who" select error={problems?.technician ?? null}>
					{#each data.technicians as { code, name } (code)}<option value={code}>{name}</option>{/each}
				</Field>
				<Field
					id="why"
					name="why"
					label="Why (optional)"
					maxlength={80}
					initial=""
					error={problems?.why ?? null}
				/>
				<DayField id="from" name="from" label="From" error={problems?.from ?? null} now={data.now} />
				<DayField id="to" name="to" label="Last day" error={problems?.to ?? null} now={data.now} />
				<div><button class="btn btn-copper">Add absence</button></div>
			</form>
		{/if}
	</section>
	<section class="slip" aria-labelledby="calendars">
		<h2 id="calendars" class="mb-2 text-ink">Calendars</h2>
		{#if manager}
			<p class="mb-2 text-ink-soft">
				A link shows one person’s planned work in any calendar program. Anyone with the link can read it until
				it ends. Customers and prices are not shown.
			</p>
			{#if made}
				<p class="mb-2 border-l-[5px] border-copper bg-wash px-3 py-2" role="status">
					For {nameOf(made.technician)}, shown only once:
					<input
						class="field figure mt-1 text-sm"
						readonly
						value={made.address}
						aria-label="Link to {nameOf(made.technician)}’s calendar"
					/>
				</p>
			{/if}
			<ul>
				{#each data.technicians as { code, name } (code)}
					{@const link = data.links.find(({ technician }) => technician === code)}
					<li class="flex items-center justify-between gap-3 border-b border-edge py-1">
						<span
							><strong>{name}</strong>
							{link
								? `has a link${link.endsAt === null ? '' : ` until ${format.date(link.endsAt)}`}`
								: 'has none'}</span
						>
						<span class="flex gap-2">
							<form method="POST" action="?/link" use:enhance class="flex gap-2">
								<input type="hidden" name="technician" value={code} />
								<select name="days" class="field w-auto py-0.5 text-sm" aria-label="Days until it ends">
									{#each data.linkDays as days (days)}<option value={String(days)} selected={days === 90}
											>{days} days</option
										>{/each}
								</select>
								<button class="btn btn-small"
									>{link ? 'New link' : 'Make a link'}<span class="sr-only"> for {name}</span></button
								>
							</form>
							{#if link}
								<form method="POST" action="?/end" use:enhance>
									<input type="hidden" name="technician" value={code} />
									<button class="btn btn-small">End link<span class="sr-only"> for {name}</span></button>
								</form>
							{/if}
						</span>
					</li>
				{/each}
			</ul>
		{:else}
			<p class="text-ink-soft">The manager makes a link to your calendar.</p>
		{/if}
		{#if data.own.length > 0}
			<h2 class="mt-4 mb-1 text-ink">Your own days</h2>
			<ol>
				{#each data.own as task (`${task.number} ${task.code}`)}
					<li class="border-b border-edge py-1">
						<span class="inline-block w-24">{format.weekdayTime(task.start)}</span>
						<a class="link figure" href="/tickets/{task.number}">{task.number}</a>
						{task.label}
					</li>
				{/each}
			</ol>
		{/if}
	</section>
</div>
