<script lang="ts">
	/** Two pictures over each other; the slider uncovers the second. */
	let {
		first,
		second
	}: { first: { address: string; words: string }; second: { address: string; words: string } } = $props();
	let share = $state(50);
</script>

<figure class="mt-3">
	<div class="relative overflow-hidden border border-edge bg-well">
		<img class="block max-h-[60vh] w-full object-contain" src={first.address} alt={first.words} />
		<img
			class="absolute inset-0 block h-full w-full object-contain"
			style:clip-path="inset(0 0 0 {share}%)"
			src={second.address}
			alt={second.words}
		/>
		<span class="absolute inset-y-0 border-l-2 border-copper" style:left="{share}%" aria-hidden="true"></span>
	</div>
	<input
		type="range"
		min="0"
		max="100"
		class="w-full"
		aria-label="From the first picture to the second"
		bind:value={share}
	/>
	<figcaption class="flex justify-between text-sm text-ink-soft">
		<span>{first.words}</span><span>{second.words}</span>
	</figcaption>
</figure>
