<script lang="ts">
	import { enhance } from '$app/forms';
	import DoorLayout from '$lib/components/ui/DoorLayout.svelte';
	import Problem from '$lib/components/ui/Problem.svelte';
	let { form } = $props();
</script>

<DoorLayout title="Sign in" lead="With the name and password that the manager gave you.">
	<form
		method="POST"
		use:enhance={() =>
			({ update }) =>
				update({ reset: false })}
		class="space-y-4"
	>
		<div>
			<label class="label" for="signIn">Name</label>
			<!-- svelte-ignore a11y_autofocus -->
			<input
				class="field"
				id="signIn"
				name="signIn"
				autocomplete="username"
				required
				autofocus
				defaultValue={form?.signIn ?? ''}
			/>
		</div>
		<div>
			<label class="label" for="password">Password</label>
			<input
				class="field"
				id="password"
				name="password"
				type="password"
				autocomplete="current-password"
				required
				aria-invalid={Boolean(form?.message)}
				aria-describedby="password-problem"
			/>
			<Problem id="password-problem" message={form?.message} />
		</div>
		<button class="btn btn-copper w-full">Sign in</button>
	</form>
</DoorLayout>
