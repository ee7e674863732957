import type { ImportAnswer, ImportProgress } from '$lib/server/exchange/import';

type Line = { progress: ImportProgress } | { answer: ImportAnswer } | { problem: string };

/** One import as the browser sees it: how far it is, what came of it, and how to stop it. */
export class ImportRun {
	progress = $state.raw<ImportProgress | null>(null);
	answer = $state.raw<ImportAnswer | null>(null);
	problem = $state<string | null>(null);
	running = $state(false);
	mode = $state<'strict' | 'lenient'>('strict');
	#stop: AbortController | null = null;

	async start(file: File, mode: 'strict' | 'lenient'): Promise<void> {
		this.progress = this.answer = this.problem = null;
		this.mode = mode;
		this.running = true;
		const stop = (this.#stop = new AbortController());
		try {
			const response = await fetch(`/settings/import?mode=${mode}`, {
				method: 'POST',
				headers: { 'content-type': 'application/x-ndjson', accept: 'application/json' },
				body: file,
				signal: stop.signal
			});
			if (!response.ok || !response.body) {
				const answer = (await response.json().catch(() => null)) as { message?: string } | null;
				this.problem = answer?.message ?? `The server answered ${response.status}; nothing was imported.`;
			} else for await (const line of linesOf(response.body)) this.#take(JSON.parse(line) as Line);
		} catch {
			this.problem = stop.signal.aborted
				? 'Stopped. Nothing of it was kept.'
				: 'The server could not be reached to the end. Look whether it is there, then import again: the same file twice changes nothing.';
		}
		this.running = false;
	}

	stop(): void {
		this.#stop?.abort();
	}

	#take(line: Line): void {
		if ('progress' in line) this.progress = line.progress;
		else if ('answer' in line) this.answer = line.answer;
		else this.problem = `Nothing was imported: ${line.problem}.`;
	}
}

async function* linesOf(body: ReadableStream<Uint8Array>): AsyncGenerator<string> {
	const reader = body.pipeThrough(new TextDecoderStream() as TransformStream<Uint8Array, string>).getReader();
	let rest = '';
	for (;;) {
		const { done: finished, value } = await reader.read();
		if (finished) break;
		const lines = (rest + value).split('\n');
		rest = lines.pop() ?? '';
		yield* lines;
	}
	if (rest) yield rest;
}
