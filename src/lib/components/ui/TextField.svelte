<script lang="ts">
	import type { HTMLInputAttributes } from 'svelte/elements';
	import Problem from './Problem.svelte';

	/** A labelled field of a form with its error beside it, outside the label so that the name stays plain. */
	let {
		name,
		label,
		problem = null,
		figure = false,
		...rest
	}: HTMLInputAttributes & {
		name: string;
		label: string;
		problem?: string | null | undefined;
		figure?: boolean;
	} = $props();
</script>

<div>
	<label class="label" for={name}>{label}</label>
	<input
		class="field {figure ? 'figure' : ''}"
		id={name}
		{name}
		aria-invalid={Boolean(problem)}
		aria-describedby="{name}-problem"
		{...rest}
	/>
	<Problem id="{name}-problem" message={problem} />
</div>
