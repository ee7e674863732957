<script lang="ts">
	import { PHOTO_OF } from '$lib/core/tickets/bench-entries';
	import Problem from '../ui/Problem.svelte';
	import { sendPicture } from '../ui/send-picture';
	import { useFormat } from '../ui/shop-context';
	import { useDesk } from './desk.svelte';
	import PhotoCompare from './PhotoCompare.svelte';
	import StrikeOut from './StrikeOut.svelte';

	/** Pictures of the device: taken with the camera or dropped in, two of them beside each other with a slider. */
	let { at }: { at: (typeof PHOTO_OF)[number] } = $props();
	const desk = useDesk();
	const format = useFormat();
	const ticket = $derived(desk.ticket);
	const WORDS = { intake: 'on arrival', before: 'before', after: 'after', board: 'board' } as const;
	let of = $state<(typeof PHOTO_OF)[number] | null>(null);
	const chosenOf = $derived(of ?? at);
	let says = $state('');
	let problem = $state<string | null>(null);
	let sending = $state(0);
	let compared = $state.raw<number[]>([]);
	const address = (photo: string, small = false) =>
		`/tickets/${ticket.number}/photos/${photo}${small ? '?small' : ''}`;
	const caption = ({ of: what, says: words, at: moment }: (typeof ticket.photos)[number]) =>
		[WORDS[what], words, moment === undefined ? '' : format.weekdayTime(moment)].filter(Boolean).join(', ');

	async function keep(files: Iterable<File>) {
		problem = null;
		for (const file of files) {
			sending += 1;
			problem = (await keepOne(file)) ?? problem;
			sending -= 1;
		}
	}
	/** @returns what went wrong, or null */
	async function keepOne(file: File): Promise<string | null> {
		const sent = await sendPicture(`/tickets/${ticket.number}/photos`, file);
		if (typeof sent === 'string') return sent;
		const { photo, width, height } = sent;
		const words = says.trim() ? { says: says.trim() } : {};
		const added = await desk.send({ verb: 'photo', photo, of: chosenOf, width, height, ...words });
		if (added) says = '';
		return null;
	}
	function pick(index: number) {
		compared = compared.includes(index)
			? compared.filter((other) => other !== index)
			: [...compared.slice(-1), index];
	}
	const pair = $derived(compared.map((index) => ticket.photos[index]).filter((photo) => photo !== undefined));
</script>

<section
	class="mt-4 border-t border-edge pt-2"
	aria-label="Pictures"
	ondragover={(event) => event.preventDefault()}
	ondrop={(event) => {
		event.preventDefault();
		void keep(event.dataTransfer?.files ?? []);
	}}
	role="group"
>
	<div class="flex flex-wrap items-center gap-2">
		<h2>Pictures</h2>
		<select
			class="field ml-auto w-32"
			aria-label="Subject"
			value={chosenOf}
			onchange={(event) => (of = event.currentTarget.value as 'board')}
		>
			{#each PHOTO_OF as what (what)}<option value={what}>{WORDS[what]}</option>{/each}
		</select>
		<input
			class="field w-44"
			aria-label="In words"
			placeholder="in words"
			maxlength={500}
			bind:value={says}
		/>
		<label class="btn"
			>{sending > 0 ? `sending ${sending} …` : 'Add a picture'}<input
				type="file"
				class="sr-only"
				accept="image/jpeg,image/png,image/webp"
				capture="environment"
				multiple
				disabled={!desk.mayWhenClosed('photo')}
				onchange={(event) => {
					void keep([...(event.currentTarget.files ?? [])]);
					event.currentTarget.value = '';
				}}
			/></label
		>
	</div>
	<Problem message={problem} />
	{#if ticket.photos.length === 0}
		<p class="text-sm text-ink-soft">No picture yet. Location and camera data are removed.</p>
	{:else}
		<ul class="mt-2 flex flex-wrap gap-2">
			{#each ticket.photos as photo, i (photo.photo + i)}
				<li class="w-36">
					<button
						class="block w-full border {compared.includes(i)
							? 'border-copper outline-3 outline-copper'
							: 'border-edge'}"
						aria-pressed={compared.includes(i)}
						aria-label="{caption(photo)}: compare"
						onclick={() => pick(i)}
					>
						<img
							class="h-24 w-full object-cover"
							src={address(photo.photo, true)}
							alt={caption(photo)}
							loading="lazy"
						/>
					</button>
					<p class="text-[0.8rem] leading-tight text-ink-soft">
						<a class="link" href={address(photo.photo)} target="_blank">{caption(photo)}</a>
						{#if desk.mayWhenClosed('release')}
							<button
								class="link"
								aria-pressed={photo.released ?? false}
								onclick={() => desk.send({ verb: 'release', index: i, released: !photo.released })}
								>{photo.released ? '● visible to the customer' : 'show to the customer'}</button
							>
						{/if}
						<StrikeOut list="photos" index={i} what="picture {i + 1}" />
					</p>
				</li>
			{/each}
		</ul>
		{#if pair.length === 2 && pair[0] && pair[1]}
			<PhotoCompare
				first={{ address: address(pair[0].photo), words: caption(pair[0]) }}
				second={{ address: address(pair[1].photo), words: caption(pair[1]) }}
			/>
		{:else if ticket.photos.length > 1}
			<p class="mt-1 text-sm text-ink-soft">Choose two to compare them.</p>
		{/if}
	{/if}
</section>
