<script lang="ts">
	import { ALL_MEASUREMENTS } from '$lib/core/evidence/measurements';
	import { codeWords } from '$lib/core/units/code';
	import { ROLES } from '$lib/core/units/role';
	let { data } = $props();
	const WORDS: Record<string, string> = {
		...Object.fromEntries(ALL_MEASUREMENTS.map(({ verb, says }) => [verb, says])),
		correct: 'correct the head',
		sign: 'ask a sign',
		opinion: 'note a claim or first guess',
		'keep-provisional': 'keep readings as provisional',
		continuity: 'prove continuity',
		observe: 'check the board',
		quote: 'quote a price',
		answer: 'note the answer to a price',
		attempt: 'log a repair',
		gate: 'pass or fail a gate',
		note: 'write a note',
		wait: 'begin a wait',
		'end-wait': 'end a wait',
		comeback: 'link as a comeback',
		cause: 'name the cause of a comeback',
		pay: 'take a payment',
		settle: 'settle an invoice',
		collect: 'note that it was picked up',
		count: 'count pins or pads',
		tell: 'note that the customer was told',
		withdraw: 'strike an entry out',
		'put-back': 'put a struck entry back',
		'close-again': 'take a reopening back'
	};
</script>

<svelte:head><title>Who may do what · Tavrek</title></svelte:head>

<div class="grid items-start gap-3 lg:grid-cols-[minmax(0,0.8fr)_minmax(0,1fr)]">
	<section class="slip overflow-x-auto" aria-labelledby="verbs-title">
		<h1 id="verbs-title" class="mb-1">What may be done to a ticket</h1>
		<p class="mb-2 text-ink-soft">
			Checked by the server at every change. Who may make an entry may strike it out and put it back.
		</p>
		<table class="ledger">
			<thead
				><tr
					><th>Change</th>{#each ROLES as role (role)}<th class="text-center">{role}</th>{/each}</tr
				></thead
			>
			<tbody>
				{#each data.verbs as { verb, roles } (verb)}
					<tr>
						<td>{WORDS[verb] ?? codeWords(verb)}</td>
						{#each ROLES as role (role)}
							<td class="text-center {roles.includes(role) ? 'text-agrees' : 'text-ink-soft'}"
								>{roles.includes(role) ? '● yes' : '· no'}</td
							>
						{/each}
					</tr>
				{/each}
			</tbody>
		</table>
	</section>
	<section class="slip overflow-x-auto" aria-labelledby="routes-title">
		<h1 id="routes-title" class="mb-1">Who may open which page or call</h1>
		<p class="mb-2 text-ink-soft">With how much may be sent there at once.</p>
		<table class="ledger">
			<thead><tr><th>Where</th><th>Sees</th><th>Sends</th><th class="num">At most</th></tr></thead>
			<tbody>
				{#each data.routes as { route, see, send, most } (route)}
					<tr>
						<td class="figure text-sm break-all">{route || '/'}</td>
						<td class="text-sm">{see.length === 3 ? 'all' : see.join(', ') || '–'}</td>
						<td class="text-sm">{send.length === 3 ? 'all' : send.join(', ') || '–'}</td>
						<td class="num">{most ?? ''}</td>
					</tr>
				{/each}
			</tbody>
		</table>
	</section>
</div>
