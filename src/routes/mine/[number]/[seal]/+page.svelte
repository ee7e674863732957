<script lang="ts">
	import { DAY_MS } from '$lib/core/units/instant';
	import { shopFormat } from '$lib/core/units/shop-format';
	import * as words from '$lib/core/words/compiled/messages.js';
	let { data, form } = $props();
	const page = $derived(data.page);
	const format = $derived(shopFormat(page.shop));
	const locale = $derived({ locale: page.language });
	// 5 January 1970 was a Monday
	const weekday = $derived(new Intl.DateTimeFormat(page.language, { weekday: 'long', timeZone: 'UTC' }));
	const dayName = (day: number) => weekday.format((4 + day) * DAY_MS);
	const and = $derived(new Intl.ListFormat(page.language));
	const holiday = $derived(
		new Intl.DateTimeFormat(page.shop.locale, { dateStyle: 'medium', timeZone: 'UTC' })
	);
	const dateOfDay = (day: string) => holiday.format(Date.parse(day));
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
	const answerWords = ({ accepted, label, priceMinor }: NonNullable<typeof page.answered>) => {
		if (!accepted) return words.page_declined({}, locale);
		const price = format.money(priceMinor);
		return label
			? words.page_accepted({ option: label, price }, locale)
			: words.page_accepted_price({ price }, locale);
	};
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
			● {words.page_thanks({}, locale)}
		</p>{/if}
	{#if form?.problem}<p class="slip border-l-[7px] border-l-short" role="alert">✕ {form.problem}</p>{/if}
	<section class="slip border-l-[7px] border-l-copper" aria-labelledby="stands">
		<h2 id="stands" class="text-xl text-ink">{page.title}</h2>
		<p class="text-[1.05rem]">{page.text}</p>
		{#if page.waitsFor.length > 0}<p class="mt-1">
				{words.page_waiting_for({ what: and.format(page.waitsFor) }, locale)}
			</p>{/if}
		{#if page.readyBy !== null}<p class="mt-1">
				{words.page_ready_by({ moment: format.moment(page.readyBy) }, locale)}
			</p>{/if}
		{#if page.answered}<p class="mt-1">
				{answerWords(page.answered)}
			</p>{/if}
		{#if page.warrantyUntil !== null}<p class="mt-1">
				{words.page_warranty_until({ date: format.date(page.warrantyUntil) }, locale)}
			</p>{/if}
	</section>
	{#if page.offer}
		<form method="POST" class="slip grid gap-3" aria-labelledby="offer">
			<h2 id="offer" class="text-lg text-ink">
				{several ? words.page_choose({}, locale) : words.page_price({}, locale)}
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
								>{words.page_warranty({ days: option.warrantyDays }, locale)}</span
							>{/if}{#if option.risks}<span class="block text-ink-soft"
								>{words.page_please_note({ risks: option.risks }, locale)}</span
							>{/if}</span
					>
					<strong class="figure text-lg">{format.money(option.priceMinor)}</strong>
				</label>
			{/each}
			{#if page.offer.depositMinor > 0}<p>
					{words.page_deposit({ amount: format.money(page.offer.depositMinor) }, locale)}
				</p>{/if}
			{#if ended}
				<p class="text-low">▽ {words.page_offer_expired({}, locale)}</p>
			{:else}
				{#if page.offer.validUntil !== null}<p class="text-ink-soft">
						{words.page_valid_until({ date: format.date(page.offer.validUntil) }, locale)}
					</p>{/if}
				<div class="flex flex-wrap gap-3">
					<button class="btn btn-copper min-h-11 flex-1 text-lg" name="answer" value="accept"
						>{words.page_accept({}, locale)}</button
					>
					<button class="btn min-h-11 flex-1 text-lg" name="answer" value="decline" formnovalidate
						>{words.page_decline({}, locale)}</button
					>
				</div>
			{/if}
		</form>
	{/if}
	{#if page.photos.length > 0}
		<section class="slip" aria-labelledby="pictures">
			<h2 id="pictures">{words.page_pictures({}, locale)}</h2>
			{#each page.photos as photo (photo.hash)}
				<figure class="mt-2">
					<img
						class="w-full"
						src="{data.path}/{photo.hash}"
						alt={photo.says ?? words.page_picture_of_device({}, locale)}
						loading="lazy"
					/>
					{#if photo.says}<figcaption class="text-ink-soft">{photo.says}</figcaption>{/if}
				</figure>
			{/each}
		</section>
	{/if}
	<section class="slip" aria-labelledby="hours">
		<h2 id="hours">{words.page_opening_hours({}, locale)}</h2>
		<table class="w-full">
			<tbody>
				{#each lines as { from, to, stretches } (from)}
					<tr
						><th class="py-0.5 text-left align-top font-normal whitespace-nowrap"
							>{from === to
								? dayName(from)
								: words.page_days({ first: dayName(from), last: dayName(to) }, locale)}</th
						><td class="figure text-right">
							{#each stretches as stretch (stretch)}<span class="ml-3 inline-block whitespace-nowrap"
									>{stretch}</span
								>{:else}{words.page_closed({}, locale)}{/each}
						</td></tr
					>
				{/each}
			</tbody>
		</table>
		{#if page.holidays.length > 0}<p class="mt-1 text-ink-soft">
				{words.page_also_closed({ days: page.holidays.map(dateOfDay).join(', ') }, locale)}
			</p>{/if}
	</section>
	<p class="px-1 pb-4 text-sm text-ink-soft">
		{page.endsAt === null
			? words.page_who_reads({}, locale)
			: words.page_who_reads_until({ date: format.date(page.endsAt) }, locale)}
	</p>
</main>
