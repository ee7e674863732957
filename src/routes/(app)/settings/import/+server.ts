import type { RequestHandler } from '@sveltejs/kit';
import { actorOf, requireUser } from '$lib/server/http/guard';
import { ImportStopped, type ImportAnswer, type ImportProgress } from '$lib/server/exchange/import';
import { log } from '$lib/server/logging/log';
import { runImport } from '$lib/server/worker/importer';

/** What is said of an import, line by line, while it runs. */
export type ImportLine = { progress: ImportProgress } | { answer: ImportAnswer } | { problem: string };

const SHOWN = 100;

/**
 * Imports the body and tells how far it is, as JSON Lines. It stops, and nothing of it is kept, when whoever sent it
 * goes away or stops reading.
 */
export const POST: RequestHandler = async ({ locals, request, url }) => {
	const user = requireUser(locals, ['manager']);
	const mode = url.searchParams.get('mode') === 'lenient' ? 'lenient' : 'strict';
	const bytes = new Uint8Array(await request.arrayBuffer());
	const stop = new AbortController();
	const encoder = new TextEncoder();
	const body = new ReadableStream<Uint8Array>({
		async start(controller) {
			const say = (line: ImportLine) => {
				if (!stop.signal.aborted) controller.enqueue(encoder.encode(`${JSON.stringify(line)}\n`));
			};
			try {
				const request = { bytes, actor: actorOf(user).name, now: Date.now(), mode } as const;
				const { accepted, rejected } = await runImport(request, (progress) => say({ progress }), stop.signal);
				say({ answer: { accepted, rejected: rejected.slice(0, SHOWN) } });
			} catch (error) {
				if (!(error instanceof ImportStopped)) log.error({ error: String(error) }, 'an import failed');
				const words =
					error instanceof ImportStopped ? error.message : 'it failed here; nothing of it was kept';
				say({ problem: words });
			}
			if (!stop.signal.aborted) controller.close();
		},
		cancel: () => stop.abort()
	});
	return new Response(body, { headers: { 'content-type': 'application/x-ndjson; charset=utf-8' } });
};
