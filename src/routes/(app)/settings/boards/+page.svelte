<script lang="ts">
	import { enhance } from '$app/forms';
	import { goto } from '$app/navigation';
	import { MODES } from '$lib/core/units/probed-place';
	import { BOARD_SIDES, type BoardPoint } from '$lib/core/catalog/kinds-of-devices';
	import { BoardDraft } from '$lib/components/boards/board-draft.svelte';
	import BoardFace from '$lib/components/ticket/BoardFace.svelte';
	import Field from '$lib/components/ui/Field.svelte';
	import Problem from '$lib/components/ui/Problem.svelte';
	import { sendPicture } from '$lib/components/ui/send-picture';
	import { keyToAction } from '$lib/components/ui/key-to-action';
	let { data, form } = $props();

	const draft = new BoardDraft();
	$effect.pre(() => draft.open(data.chosen));
	const point = $derived(draft.current);
	const otherPoints = $derived(draft.points.filter(({ code }) => code !== point?.code));
	const problems = $derived(
		(form?.problems ?? []).map(({ path, message }) => {
			const [list, place, field] = path.split('.');
			const named = list === 'points' ? draft.points[Number(place)] : undefined;
			return {
				code: named?.code ?? null,
				field: field ?? '',
				words: `${named?.code ?? path} ${field ?? ''} ${message}`
			};
		})
	);
	const problemOf = (field: string) =>
		problems.find((problem) => problem.code === point?.code && problem.field === field)?.words ?? null;
	let sending = $state(false);
	let refused = $state<string | null>(null);

	/** A picture that no board holds yet has no address of its own. */
	const asAddress = (file: File) =>
		new Promise<string>((resolve) => {
			const reader = new FileReader();
			reader.onload = () => resolve(String(reader.result));
			reader.readAsDataURL(file);
		});

	async function keep(file: File | undefined) {
		if (!file) return;
		sending = true;
		const sent = await sendPicture('/settings/boards/pictures', file);
		sending = false;
		refused = typeof sent === 'string' ? sent : null;
		if (typeof sent !== 'string') draft.showPicture(sent.photo, await asAddress(file));
	}

	const KEYS = {
		a: 'add',
		Delete: 'remove',
		ArrowLeft: 'left',
		ArrowRight: 'right',
		ArrowUp: 'up',
		ArrowDown: 'down'
	} as const;
	function keys(event: KeyboardEvent) {
		const action = keyToAction(KEYS, event);
		if (!action) return;
		event.preventDefault();
		if (action === 'add') draft.add();
		else if (action === 'remove') draft.remove();
		else
			draft.nudge(
				{ left: [-1, 0], right: [1, 0], up: [0, -1], down: [0, 1] }[action] as [number, number],
				event.shiftKey
			);
	}
	const set = <Key extends keyof BoardPoint>(key: Key, value: BoardPoint[Key] | '' | undefined) =>
		draft.set(key, value);
	const words = (text: string) => text.split(/[\s,]+/).filter(Boolean);
</script>

<svelte:head><title>Boards · Tavrek</title></svelte:head>
<svelte:window onkeydown={keys} />

{#if !data.chosen}
	<p class="slip">
		No model yet. Add the first under Catalog, Models; the points of its board are placed here.
	</p>
{:else}
	<div class="grid items-start gap-3 lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
		<section class="slip" aria-labelledby="board-title">
			<div class="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1.5">
				<h1 id="board-title">Boards</h1>
				<label class="flex items-center gap-2"
					><span class="text-ink-soft">Model</span>
					<select
						class="field w-auto"
						value={data.chosen.code}
						onchange={(event) => void goto(`/settings/boards?model=${event.currentTarget.value}`)}
					>
						{#each data.models as { code, label, points } (code)}
							<option value={code}>{label}{points > 0 ? ` (${points} points)` : ''}</option>
						{/each}
					</select></label
				>
				<span class="flex gap-1.5">
					{#each BOARD_SIDES as name (name)}
						<button
							type="button"
							class="btn btn-small"
							aria-pressed={draft.side === name}
							onclick={() => (draft.side = name)}>{name}</button
						>
					{/each}
				</span>
				<label class="btn btn-small ml-auto cursor-pointer"
					>{sending ? 'Sending…' : draft.picture ? 'Another picture' : 'Picture of this side'}
					<input
						class="sr-only"
						type="file"
						accept="image/*"
						onchange={(event) => void keep(event.currentTarget.files?.[0])}
					/></label
				>
				{#if draft.picture}<button type="button" class="link text-sm" onclick={() => draft.dropPicture()}
						>without picture</button
					>{/if}
			</div>
			<Problem message={refused} />
			<BoardFace
				points={draft.points}
				side={draft.side}
				picture={draft.picture}
				marks={{}}
				current={point?.code ?? null}
				onpick={(code) => draft.pick(code)}
				onplace={(x, y) => draft.place(x, y)}
			/>
			<p class="mt-1.5 text-sm text-ink-soft">
				Click on the board to place the chosen point, or to start a new one. <span class="key">a</span> new,
				<span class="key">←↑↓→</span> move it (with Shift in larger steps), <span class="key">Delete</span> removes
				it.
			</p>
		</section>

		<div class="grid gap-3">
			<section class="slip" aria-labelledby="point-title">
				<div class="mb-2 flex items-baseline justify-between gap-3">
					<h2 id="point-title" class="text-base text-ink">
						{point ? `Point ${point.code}` : 'No point chosen'}
					</h2>
					{#if point}<button type="button" class="link text-sm" onclick={() => draft.remove()}>Remove</button
						>{/if}
				</div>
				{#if !point}
					<p class="text-ink-soft">
						Choose a point on the board or in the list, or click where a new one sits.
					</p>
				{:else}
					<div class="grid grid-cols-2 gap-2.5 sm:grid-cols-4">
						<Field
							id="p-code"
							label="Code"
							figure
							value={point.code}
							error={problemOf('code')}
							onchange={(event) => draft.rename(event.currentTarget.value)}
						/>
						<Field
							id="p-label"
							class="col-span-2 sm:col-span-3"
							label="What it is"
							value={point.label}
							error={problemOf('label')}
							oninput={(event) => set('label', event.currentTarget.value)}
						/>
						<Field
							id="p-ground"
							class="col-span-2"
							label="Grounded on a good board"
							select
							value={point.ground}
							onchange={(event) =>
								draft.setGround((event.currentTarget as unknown as HTMLSelectElement).value)}
						>
							<option value="never">never: a line, a coil or a test pad</option>
							<option value="normal">yes: it is ground</option>
							<option value="one-side">one of its two ends may be</option>
						</Field>
						{#if point.ground === 'one-side'}
							<Field
								id="p-with"
								class="col-span-2"
								label="The other end"
								select
								value={point.with ?? ''}
								error={problemOf('with')}
								onchange={(event) => set('with', (event.currentTarget as unknown as HTMLSelectElement).value)}
							>
								<option value="">choose it</option>
								{#each otherPoints as { code, label } (code)}<option value={code}>{code}, {label}</option
									>{/each}
							</Field>
						{/if}
						<Field
							id="p-chip"
							class="col-span-2"
							label="Chip (optional)"
							value={point.chip ?? ''}
							list="p-chips"
							oninput={(event) => set('chip', event.currentTarget.value)}
						/>
						<Field
							id="p-net"
							label="Line (optional)"
							figure
							value={point.net ?? ''}
							oninput={(event) => set('net', event.currentTarget.value)}
						/>
						<Field
							id="p-minutes"
							label="Minutes"
							figure
							inputmode="decimal"
							value={point.minutes === undefined ? '' : String(point.minutes)}
							error={problemOf('minutes')}
							onchange={(event) => draft.setNumber('minutes', event.currentTarget.value)}
						/>
						<Field
							id="p-mode"
							label="Should read, in"
							select
							value={point.expect?.mode ?? ''}
							onchange={(event) =>
								draft.setExpected('mode', (event.currentTarget as unknown as HTMLSelectElement).value)}
						>
							<option value="">not stated</option>
							{#each MODES as name (name)}<option>{name}</option>{/each}
						</Field>
						{#if point.expect}
							<Field
								id="p-low"
								label="from"
								figure
								inputmode="decimal"
								value={String(point.expect.low)}
								error={problemOf('expect')}
								onchange={(event) => draft.setExpected('low', event.currentTarget.value)}
							/>
							<Field
								id="p-high"
								label="to"
								figure
								inputmode="decimal"
								value={String(point.expect.high)}
								onchange={(event) => draft.setExpected('high', event.currentTarget.value)}
							/>
						{/if}
						<label class="col-span-2 flex items-end gap-2 pb-1.5"
							><input
								type="checkbox"
								checked={point.when === 'port-off'}
								onchange={(event) => set('when', event.currentTarget.checked ? 'port-off' : undefined)}
							/> read once the old port is off</label
						>
						<Field
							id="p-faults"
							class="col-span-full"
							label="Faults that a bad reading suggests (optional)"
							figure
							look="text-sm"
							value={(point.faults ?? []).join(' ')}
							error={problemOf('faults')}
							hint="fault codes. Default: the fault of its chip, and what shorts the line."
							list="p-fault-codes"
							onchange={(event) => set('faults', words(event.currentTarget.value))}
						/>
					</div>
					<datalist id="p-chips"
						>{#each draft.chips as name (name)}<option>{name}</option>{/each}</datalist
					>
					<datalist id="p-fault-codes"
						>{#each data.faults as { code, label } (code)}<option value={code}>{label}</option
							>{/each}</datalist
					>
				{/if}
			</section>

			<section class="slip" aria-labelledby="points-title">
				<h2 id="points-title" class="mb-1 text-base text-ink">
					Points, in probing order <span class="figure text-sm text-ink-soft">{draft.points.length}</span>
				</h2>
				{#if draft.points.length === 0}
					<p class="text-ink-soft">
						No points yet. About fifteen cover a board: supply line, capacitors of the chips, coil.
					</p>
				{:else}
					<table class="ledger">
						<thead
							><tr
								><th>Code</th><th>What it is</th><th>Side</th><th><span class="sr-only">Order</span></th></tr
							></thead
						>
						<tbody>
							{#each draft.points as { code, label, side = 'front', x } (code)}
								<tr class={code === point?.code ? 'bg-wash' : ''}>
									<td
										><button
											type="button"
											class="link figure whitespace-nowrap"
											onclick={() => draft.pick(code)}>{code}</button
										></td
									>
									<td class="leading-snug">{label}</td>
									<td class="text-sm text-ink-soft">{x === undefined ? 'not placed' : side}</td>
									<td class="text-right whitespace-nowrap"
										><button
											type="button"
											class="link text-sm"
											aria-label="{code} earlier"
											onclick={() => draft.move(code, -1)}>↑</button
										>
										<button
											type="button"
											class="link text-sm"
											aria-label="{code} later"
											onclick={() => draft.move(code, 1)}>↓</button
										></td
									>
								</tr>
							{/each}
						</tbody>
					</table>
				{/if}
				<form
					method="POST"
					action="?/save&model={data.chosen.code}"
					class="mt-2.5 flex flex-wrap items-center gap-3"
					use:enhance={() =>
						({ update }) =>
							update({ reset: false })}
				>
					<input type="hidden" name="model" value={data.chosen.code} />
					<input type="hidden" name="version" value={data.chosen.version} />
					<input type="hidden" name="board" value={draft.text} />
					<button class="btn btn-copper">Save the board</button>
					{#if draft.isChanged}<span class="text-low">not saved yet</span>
					{:else if form?.saved}<span role="status" class="text-agrees">● Saved</span>{/if}
				</form>
				{#each problems as { words: says }, i (i)}<Problem message={says} />{/each}
			</section>
		</div>
	</div>
{/if}
