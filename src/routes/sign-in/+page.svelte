<script lang="ts">
	import Field from '$lib/components/ui/Field.svelte';
	import { enhance } from '$app/forms';
	import DoorLayout from '$lib/components/ui/DoorLayout.svelte';
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
		<Field
			id="signIn"
			label="Name"
			name="signIn"
			autocomplete="username"
			required
			autofocus
			initial={form?.signIn ?? ''}
		/>
		<Field
			id="password"
			label="Password"
			name="password"
			type="password"
			autocomplete="current-password"
			required
			error={form?.message ?? null}
		/>
		<button class="btn btn-copper w-full">Sign in</button>
	</form>
</DoorLayout>
