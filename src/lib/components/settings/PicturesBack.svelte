<script lang="ts">
	/** Takes the ZIP of pictures back: each is believed only where its name is what it holds. */
	let said = $state('');
	let problem = $state('');
	let sending = $state(false);
	async function send(file: File | undefined) {
		said = problem = '';
		if (!file) return;
		sending = true;
		try {
			const response = await fetch('/settings/pictures', {
				method: 'POST',
				headers: { 'content-type': 'application/zip' },
				body: file
			});
			const answer = (await response.json()) as {
				kept?: number;
				refused?: number;
				problem?: string;
				message?: string;
			};
			if (response.ok)
				said = `${answer.kept} pictures are kept${answer.refused ? `; ${answer.refused} entries are no pictures of a backup` : ''}.`;
			else problem = answer.problem ?? answer.message ?? `The server answered ${response.status}.`;
		} catch {
			problem = 'The server could not be reached to the end; the same file can be sent again.';
		}
		sending = false;
	}
</script>

<div class="mb-4">
	<label class="label" for="pictures">Take pictures back from such a ZIP</label>
	<input
		class="field"
		id="pictures"
		type="file"
		accept=".zip,application/zip"
		disabled={sending}
		onchange={(event) => send(event.currentTarget.files?.[0])}
	/>
	<p role="status" class="text-sm text-agrees">{said}</p>
	{#if problem}<p role="alert" class="text-sm font-semibold text-short">✕ {problem}</p>{/if}
</div>
