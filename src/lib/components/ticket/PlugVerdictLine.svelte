<script lang="ts">
	import { PLUG_WORDS, type PlugVerdict } from '$lib/core/charging/judge-plug-in';
	import { waitWords } from '../ui/wait-words';
	import { PLUG_LOOK } from './plug-look';

	let { verdict }: { verdict: PlugVerdict } = $props();
	const look = $derived(PLUG_LOOK[verdict.kind]);
</script>

<span class="font-semibold {look.text}"
	><span aria-hidden="true">{look.shape}</span> {PLUG_WORDS[verdict.kind]}</span
>
<span class="block text-sm leading-snug">{verdict.reason}</span>
{#if verdict.wait}<span class="block text-sm leading-snug"
		>Normal current in about <span class="figure">{waitWords(verdict.wait)}</span>.</span
	>{/if}
<span class="block text-sm leading-snug text-ink-soft">Not ruled out: {verdict.open}</span>
