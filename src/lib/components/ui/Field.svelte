<script lang="ts" generics="Value extends string | number | null = string">
	import type { Snippet } from 'svelte';
	import type { HTMLInputAttributes } from 'svelte/elements';
	import Problem from './Problem.svelte';

	/** Everything of the control but its value, which is never set through a spread: a late one would write over what is typed. */
	type Control = Omit<
		HTMLInputAttributes,
		'value' | 'defaultValue' | 'checked' | 'id' | 'class' | 'children' | 'aria-invalid' | 'aria-describedby'
	>;
	interface Props extends Control {
		id: string;
		label: string;
		/** of the control; bound, or as the page has it */
		value?: Value;
		/** what stands there at first, for a form that keeps what is typed itself, before the page is awake as well */
		initial?: string;
		hint?: string;
		error?: string | null | undefined;
		/** set in the type of figures */
		figure?: boolean;
		/** lines of text, where one is not enough */
		rows?: number;
		/** a choice: its options are the children */
		select?: boolean;
		/** said behind the control */
		unit?: string;
		/** the control itself, for who sets the focus */
		element?: HTMLElement | undefined;
		/** classes of the whole field, and of the control beside its own */
		class?: string;
		look?: string;
		children?: Snippet;
	}
	let {
		id,
		label,
		value = $bindable(),
		initial,
		hint,
		error,
		figure = false,
		rows,
		select = false,
		unit,
		element = $bindable(),
		class: place = '',
		look = '',
		children,
		...control
	}: Props = $props();
	const shape = $derived(`field ${figure ? 'figure' : ''} ${look}`);
	const described = $derived(
		[hint ? `${id}-hint` : '', error === undefined ? '' : `${id}-problem`].filter(Boolean).join(' ') ||
			undefined
	);
	/** the same attributes, for controls that share them */
	const others = $derived(control as Record<string, unknown>);
</script>

<div class={place}>
	<label class="label" for={id}>{label}</label>
	{#if select}
		<select
			{...others}
			bind:this={element}
			{id}
			class={shape}
			bind:value
			aria-invalid={error ? true : undefined}
			aria-describedby={described}>{@render children?.()}</select
		>
	{:else if rows !== undefined}
		<textarea
			{...others}
			bind:this={element}
			{id}
			class={shape}
			{rows}
			bind:value
			aria-invalid={error ? true : undefined}
			aria-describedby={described}></textarea>
	{:else if initial !== undefined}
		<input
			{...control}
			bind:this={element}
			{id}
			class={shape}
			defaultValue={initial}
			aria-invalid={error ? true : undefined}
			aria-describedby={described}
		/>
	{:else}
		<div class={unit ? 'flex items-center gap-1.5' : 'contents'}>
			<input
				{...control}
				bind:this={element}
				{id}
				class={shape}
				bind:value
				aria-invalid={error ? true : undefined}
				aria-describedby={described}
			/>
			{#if unit}<span class="text-sm text-ink-soft">{unit}</span>{/if}
		</div>
	{/if}
	{#if !select}{@render children?.()}{/if}
	{#if hint}<p id="{id}-hint" class="text-sm text-ink-soft">{hint}</p>{/if}
	{#if error !== undefined}<Problem id="{id}-problem" message={error} />{/if}
</div>
