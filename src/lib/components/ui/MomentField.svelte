<script lang="ts">
	import {
		fromAbsolute,
		parseDateTime,
		toCalendarDateTime,
		type CalendarDateTime,
		type DateValue
	} from '@internationalized/date';
	import { DateField } from 'bits-ui';
	import Problem from './Problem.svelte';
	import { useShop } from './shop-context';

	/** A day and a time in the shop's way of writing, typed part by part; bound as 2026-12-24T17:30 by the shop's clock, or nothing. */
	let {
		id,
		label,
		now,
		text = $bindable(''),
		hint,
		error
	}: {
		id: string;
		label: string;
		now: number;
		text: string;
		hint?: string;
		error?: string | null;
	} = $props();
	const shop = useShop();
	const placeholder = $derived<CalendarDateTime>(
		toCalendarDateTime(fromAbsolute(now, shop.timeZone)).set({ minute: 0, second: 0, millisecond: 0 })
	);
	const value = $derived.by<DateValue | undefined>(() => {
		try {
			return text ? parseDateTime(text) : undefined;
		} catch {
			return undefined;
		}
	});
	const parts = {
		day: 'day',
		month: 'month',
		year: 'year',
		hour: 'hour',
		minute: 'minute',
		dayPeriod: 'am or pm'
	};
</script>

<div>
	<DateField.Root
		{value}
		onValueChange={(typed) => (text = typed ? typed.toString().slice(0, 16) : '')}
		{placeholder}
		locale={shop.locale}
		granularity="minute"
		hideTimeZone
	>
		<DateField.Label class="label" id="{id}-label">{label}</DateField.Label>
		<DateField.Input
			{id}
			class="field figure flex items-center gap-px text-[0.93rem] whitespace-nowrap"
			aria-describedby="{id}-about"
		>
			{#snippet children({ segments })}
				{#each segments as { part, value: shown }, i (part + i)}
					{#if part === 'literal'}
						<DateField.Segment {part} class="whitespace-pre text-ink-soft">{shown}</DateField.Segment>
					{:else}
						<DateField.Segment
							{part}
							class="rounded-sm px-0.5 focus-visible:bg-wash"
							aria-label="{parts[part as keyof typeof parts] ?? part}, {label}">{shown}</DateField.Segment
						>
					{/if}
				{/each}
			{/snippet}
		</DateField.Input>
	</DateField.Root>
	<p id="{id}-about" class="text-sm text-ink-soft">{hint ?? ''}</p>
	<Problem message={error ?? null} />
</div>
