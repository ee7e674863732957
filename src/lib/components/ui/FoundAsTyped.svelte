<script lang="ts" generics="Item">
	import { Combobox } from 'bits-ui';

	/** A field that finds what exists while it is typed, and takes what is new as it stands. */
	let {
		id,
		label,
		text = $bindable(''),
		items,
		keyOf,
		wordsOf,
		detailOf,
		onpick,
		ontype,
		invalid = false,
		describedby
	}: {
		id: string;
		label: string;
		text: string;
		items: Item[];
		keyOf: (item: Item) => string;
		wordsOf: (item: Item) => string;
		detailOf: (item: Item) => string;
		onpick: (item: Item) => void;
		ontype: (text: string) => void;
		invalid?: boolean;
		describedby?: string;
	} = $props();
	let open = $state(false);

	function pick(key: string) {
		const item = items.find((candidate) => keyOf(candidate) === key);
		if (!item) return;
		text = wordsOf(item);
		onpick(item);
	}
</script>

<Combobox.Root type="single" bind:open inputValue={text} onValueChange={pick} value="">
	<label class="label" for={id}>{label}</label>
	<Combobox.Input
		{id}
		class="field"
		autocomplete="off"
		aria-invalid={invalid}
		aria-describedby={describedby}
		oninput={(event) => {
			text = event.currentTarget.value;
			open = true;
			ontype(text);
		}}
	/>
	{#if items.length > 0}
		<Combobox.Portal>
			<Combobox.Content class="slip z-50 w-(--bits-combobox-anchor-width) p-1 shadow-md" sideOffset={3}>
				{#each items as item (keyOf(item))}
					<Combobox.Item
						value={keyOf(item)}
						label={wordsOf(item)}
						class="flex justify-between gap-3 rounded-sm px-2.5 py-1.5 data-highlighted:bg-wash"
					>
						<span>{wordsOf(item)}</span><span class="text-sm text-ink-soft">{detailOf(item)}</span>
					</Combobox.Item>
				{/each}
			</Combobox.Content>
		</Combobox.Portal>
	{/if}
</Combobox.Root>
