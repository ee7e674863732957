<script lang="ts">
	/** A sign with three states: yes, no, not asked. Not asked is nothing said, never a no. */
	let {
		label,
		value,
		disabled = false,
		onchange
	}: {
		label: string;
		value: boolean | null;
		disabled?: boolean;
		onchange: (value: boolean | null) => void;
	} = $props();

	function keys(event: KeyboardEvent) {
		const wanted = { y: true, n: false, Backspace: null, Delete: null, '-': null }[event.key];
		if (wanted === undefined || disabled || event.ctrlKey || event.metaKey || event.altKey) return;
		event.preventDefault();
		event.stopPropagation();
		onchange(wanted);
	}
	const choice = (on: boolean) =>
		`thumb min-w-10 max-sm:min-w-14 border px-2 py-px text-[0.87rem] font-semibold first:rounded-l-sm last:rounded-r-sm -ml-px ${
			on ? 'border-house bg-house text-[#fbf8f0]' : 'border-edge-strong bg-paper text-ink-soft'
		}`;
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
<div
	class="flex items-center justify-between gap-2 border-b border-edge/70 py-[3px]"
	role="group"
	aria-label={label}
	onkeydown={keys}
>
	<span class={value === null ? 'text-ink-soft' : value ? 'font-semibold' : ''}>{label}</span>
	<span class="flex shrink-0">
		<button
			type="button"
			class={choice(value === true)}
			aria-pressed={value === true}
			{disabled}
			onclick={() => onchange(value === true ? null : true)}>yes</button
		>
		<button
			type="button"
			tabindex="-1"
			class={choice(value === false)}
			aria-pressed={value === false}
			{disabled}
			onclick={() => onchange(value === false ? null : false)}>no</button
		>
	</span>
</div>
