<script lang="ts">
	import type { Connector } from '$lib/core/catalog/catalog';

	export interface FaceContact {
		/** what stands in the contact: a reading or a state */
		text: string;
		shape: string;
		/** colour class of the mark and frame */
		tone: string;
		filled?: boolean;
		dashed?: boolean;
	}
	let {
		connector,
		contacts,
		current = null,
		onpick
	}: {
		connector: Connector;
		contacts: Record<string, FaceContact>;
		current?: string | null;
		onpick: (pin: string) => void;
	} = $props();

	/** Rows by side, in probing order, as the port is seen from the front. */
	const rows = $derived.by(() => {
		const sides = [...new Set(connector.pins.map(({ side }) => side ?? ''))];
		return sides.map((side) => connector.pins.filter((pin) => (pin.side ?? '') === side));
	});

	let face = $state<HTMLElement>();
	/** Arrow keys walk the face as it is seen: along a row, and across to the contact that faces this one. */
	function walk(event: KeyboardEvent) {
		const step = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] }[event.key];
		const from = (event.target as HTMLElement).dataset.pin;
		if (!step || from === undefined) return;
		const r = rows.findIndex((row) => row.some(({ pin }) => pin === from));
		const c = rows[r]?.findIndex(({ pin }) => pin === from) ?? -1;
		const next = rows[r + (step[0] ?? 0)]?.[c + (step[1] ?? 0)]?.pin;
		if (next === undefined) return;
		event.preventDefault();
		onpick(next);
		if (face?.contains(document.activeElement)) {
			face.querySelector<HTMLElement>(`[data-pin="${CSS.escape(next)}"]`)?.focus();
		}
	}
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
	class="face rounded-[26px] border-2 border-ink bg-mat/50 px-3 py-3 sm:px-5"
	role="group"
	bind:this={face}
	onkeydown={walk}
	aria-label="{connector.label}, seen from the front"
>
	{#each rows as row, r (r)}
		{#if r > 0}<div class="my-2 h-[6px] rounded-full bg-bar" aria-hidden="true"></div>{/if}
		<div class="grid gap-[3px] sm:gap-1" style:grid-template-columns="repeat({row.length}, minmax(0, 1fr))">
			{#each row as { pin, net } (pin)}
				{@const contact = contacts[pin]}
				<button
					type="button"
					data-pin={pin}
					tabindex={pin === current || (current === null && pin === row[0]?.pin) ? 0 : -1}
					class="contact flex h-[62px] flex-col items-center justify-between rounded-[3px] border bg-paper py-0.5 leading-tight {contact?.tone ??
						'text-ink-soft'} {contact?.filled ? 'filled' : ''} {contact?.dashed ? 'border-dashed' : ''}"
					class:current={pin === current}
					aria-pressed={pin === current}
					aria-label="{pin} {net}: {contact ? contact.text : 'not seen yet'}"
					onclick={() => onpick(pin)}
				>
					<span class="figure text-[0.74rem]">{pin}</span>
					<span class="figure reading text-[0.84rem]">{contact?.text ?? ''}</span>
					<span class="text-[0.7rem]" aria-hidden="true"
						>{pin === current ? '▸' : (contact?.shape ?? '·')}</span
					>
				</button>
			{/each}
		</div>
	{/each}
</div>

<style>
	.contact {
		border-color: var(--edge);
		min-width: 0;
		overflow: hidden;
	}
	.contact.filled {
		background: var(--short);
		border-color: var(--short);
		color: var(--paper);
	}
	.contact.border-dashed {
		border-color: var(--open);
	}
	.contact.current {
		outline: 3px solid var(--copper);
		outline-offset: 1px;
	}
	@media (max-width: 640px) {
		.reading {
			font-size: 0.6rem;
		}
	}
</style>
