<script lang="ts">
	import { shopFormat } from '$lib/core/units/shop-format';
	let { data, form } = $props();
	const page = $derived(data.page);
	const format = $derived(shopFormat(page.shop));
	const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
	const clock = (minutes: number) =>
		`${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`;
	/** days that follow one another with the same hours are one line */
	const lines = $derived.by(() => {
		const grouped: { from: number; to: number; stretches: string[] }[] = [];
		page.week.forEach((day, i) => {
			const stretches = day.map(([from, to]) => `${clock(from)}\u2013${clock(to)}`);
			const last = grouped.at(-1);
			if (last && last.stretches.join() === stretches.join()) last.to = i;
			else grouped.push({ from: i, to: i, stretches });
		});
		return grouped;
	});
	const several = $derived((page.offer?.options.length ?? 0) > 1);
	const ended = $derived(page.offer?.validUntil != null && data.now > page.offer.validUntil);
</script>

<svelte:head>
	<title>{page.device}, {page.number}</title>
	<meta name="robots" content="noindex" />
	<meta name="viewport" content="width=device-width, initial-scale=1" />
</svelte:head>

<main class="mx-auto grid max-w-xl gap-2.5 p-3">
	<header class="slip">
		<p class="text-ink-soft">{page.shop.name}</p>
		<h1 class="text-2xl">{page.device}</h1>
		<p class="figure">{page.number}</p>
	</header>
	{#if data.thanked}<p class="slip border-l-[7px] border-l-agrees" role="status">
			● Thank you, your answer is with us.
		</p>{/if}
	{#if form?.problem}<p class="slip border-l-[7px] border-l-short" role="alert">✕ {form.problem}</p>{/if}
	<section class="slip border-l-[7px] border-l-copper" aria-labelledby="stands">
		<h2 id="stands" class="text-xl text-ink">{page.title}</h2>
		<p class="text-[1.05rem]">{page.text}</p>
		{#if page.waitsFor.length > 0}<p class="mt-1">We are waiting for {page.waitsFor.join(' and ')}.</p>{/if}
		{#if page.readyBy !== null}<p class="mt-1">
				Promised for <strong>{format.moment(page.readyBy)}</strong>.
			</p>{/if}
		{#if page.answered}<p class="mt-1">
				You {page.answered.accepted ? 'accepted' : 'declined'}{page.answered.label
					? ` “${page.answered.label}”`
					: ''}
				{page.answered.accepted ? 'at' : ''}
				{page.answered.accepted ? format.money(page.answered.priceMinor) : ''}.
			</p>{/if}
		{#if page.warrantyUntil !== null}<p class="mt-1">
				Under warranty until <strong>{format.date(page.warrantyUntil)}</strong>.
			</p>{/if}
	</section>
	{#if page.offer}
		<form method="POST" class="slip grid gap-3" aria-labelledby="offer">
			<h2 id="offer" class="text-lg text-ink">
				{several ? 'What we can do: choose one' : 'What the repair costs'}
			</h2>
			<input type="hidden" name="once" value={page.once} />
			<input type="hidden" name="version" value={page.version} />
			{#each page.offer.options as option, i (i)}
				<label
					class="flex min-h-11 items-start gap-3 rounded-sm border border-edge-strong bg-paper-2 p-3 {several
						? 'cursor-pointer'
						: ''}"
				>
					{#if several}<input type="radio" name="option" value={i} class="mt-1 size-5" required />{/if}
					<span class="flex-1"
						><strong>{option.label}</strong>{#if option.warrantyDays}<span class="block text-ink-soft"
								>{option.warrantyDays} days of warranty</span
							>{/if}{#if option.risks}<span class="block text-ink-soft">Please note: {option.risks}</span
							>{/if}</span
					>
					<strong class="figure text-lg">{format.money(option.priceMinor)}</strong>
				</label>
			{/each}
			{#if page.offer.depositMinor > 0}<p>Deposit: {format.money(page.offer.depositMinor)}.</p>{/if}
			{#if ended}
				<p class="text-low">▽ This offer has expired. Call us for a new one.</p>
			{:else}
				{#if page.offer.validUntil !== null}<p class="text-ink-soft">
						Valid until {format.date(page.offer.validUntil)}.
					</p>{/if}
				<div class="flex flex-wrap gap-3">
					<button class="btn btn-copper min-h-11 flex-1 text-lg" name="answer" value="accept">Accept</button>
					<button class="btn min-h-11 flex-1 text-lg" name="answer" value="decline" formnovalidate
						>Decline</button
					>
				</div>
			{/if}
		</form>
	{/if}
	{#if page.photos.length > 0}
		<section class="slip" aria-labelledby="pictures">
			<h2 id="pictures">Pictures</h2>
			{#each page.photos as photo (photo.hash)}
				<figure class="mt-2">
					<img
						class="w-full"
						src="{data.path}/{photo.hash}"
						alt={photo.says ?? 'Picture of the device'}
						loading="lazy"
					/>
					{#if photo.says}<figcaption class="text-ink-soft">{photo.says}</figcaption>{/if}
				</figure>
			{/each}
		</section>
	{/if}
	<section class="slip" aria-labelledby="hours">
		<h2 id="hours">When we are open</h2>
		<table class="w-full">
			<tbody>
				{#each lines as { from, to, stretches } (from)}
					<tr
						><th class="py-0.5 text-left align-top font-normal whitespace-nowrap"
							>{DAYS[from]}{from === to ? '' : ` to ${DAYS[to]}`}</th
						><td class="figure text-right">
							{#each stretches as stretch (stretch)}<span class="ml-3 inline-block whitespace-nowrap"
									>{stretch}</span
								>{:else}closed{/each}
						</td></tr
					>
				{/each}
			</tbody>
		</table>
		{#if page.holidays.length > 0}<p class="mt-1 text-ink-soft">
				Also closed: {page.holidays.join(', ')}.
			</p>{/if}
	</section>
	<p class="px-1 pb-4 text-sm text-ink-soft">
		This page shows only this device. Anyone with its address can read it{page.endsAt === null
			? ' and answer'
			: ` until ${format.date(page.endsAt)}`}.
	</p>
</main>
