<script lang="ts">
	import { CalendarDate, fromAbsolute, toCalendarDate, type DateValue } from '@internationalized/date';
	import { DateField } from 'bits-ui';
	import Problem from './Problem.svelte';
	import { useShop } from './shop-context';

	/** A day in the shop's way of writing, typed part by part; sent as 2026-12-24. */
	let {
		id,
		name,
		label,
		now,
		error
	}: { id: string; name: string; label: string; now: number; error?: string | null } = $props();
	const shop = useShop();
	let value = $state.raw<DateValue | undefined>();
	const placeholder = $derived<CalendarDate>(toCalendarDate(fromAbsolute(now, shop.timeZone)));
</script>

<div>
	<DateField.Root bind:value {placeholder} locale={shop.locale} granularity="day">
		<DateField.Label class="label" {id}>{label}</DateField.Label>
		<DateField.Input
			id="{id}-input"
			class="field figure flex items-center gap-0.5"
			aria-describedby="{id}-problem"
		>
			{#snippet children({ segments })}
				{#each segments as { part, value: text }, i (part + i)}
					{#if part === 'literal'}
						<DateField.Segment {part} class="text-ink-soft">{text}</DateField.Segment>
					{:else}
						<DateField.Segment {part} class="rounded-sm px-0.5 focus-visible:bg-wash"
							>{text}</DateField.Segment
						>
					{/if}
				{/each}
			{/snippet}
		</DateField.Input>
	</DateField.Root>
	<input type="hidden" {name} value={value ? value.toString().slice(0, 10) : ''} />
	<Problem id="{id}-problem" message={error ?? null} />
</div>
