<script lang="ts">
	import { enhance } from '$app/forms';
	import DoorLayout from '$lib/components/ui/DoorLayout.svelte';
	import TextField from '$lib/components/ui/TextField.svelte';
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
		<TextField
			name="signIn"
			label="Name"
			autocomplete="username"
			required
			autofocus
			value={form?.signIn ?? ''}
		/>
		<TextField
			name="password"
			label="Password"
			type="password"
			autocomplete="current-password"
			required
			problem={form?.message}
		/>
		<button class="btn btn-copper w-full">Sign in</button>
	</form>
</DoorLayout>
