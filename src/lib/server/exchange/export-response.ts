import { recordAudit } from '../audit/commands';
import { besidePool, type Database } from '../database/connection';
import { problem } from '../http/problem';
import { exportLines } from './export';

/** Exports under way at once, and how long one may stand without being read: each holds a connection and a snapshot. */
const AT_ONCE = 3;
const STALLED_MS = 60_000;
let running = 0;

/**
 * The export as a streamed download, from connections beside the pool: a chunk is read from the database when the reader
 * asks for it. It is noted who took everything.
 */
export async function exportResponse(db: Database, actor: string, now: number): Promise<Response> {
	if (running >= AT_ONCE) {
		const busy = problem(503, 'Busy', `${AT_ONCE} exports are under way; try again when one is done`);
		busy.headers.set('retry-after', '30');
		return busy;
	}
	await recordAudit(db, { at: now, actor, subject: 'export', key: 'everything', verb: 'export', detail: {} });
	running += 1;
	const lines = exportLines(besidePool(db));
	const encoder = new TextEncoder();
	let finished = false;
	const end = () => {
		if (!finished) running -= 1;
		finished = true;
		clearTimeout(stalled);
	};
	let stalled: ReturnType<typeof setTimeout> | undefined;
	const body = new ReadableStream<Uint8Array>({
		async pull(controller) {
			clearTimeout(stalled);
			try {
				const { value, done } = await lines.next();
				if (done) {
					end();
					controller.close();
					return;
				}
				controller.enqueue(encoder.encode(value));
				stalled = setTimeout(() => {
					end();
					void lines.return(undefined);
					controller.error(new Error('the export was not read any further'));
				}, STALLED_MS);
			} catch (error) {
				end();
				controller.error(error);
			}
		},
		async cancel() {
			end();
			await lines.return(undefined);
		}
	});
	return new Response(body, {
		headers: {
			'content-type': 'application/x-ndjson; charset=utf-8',
			'content-disposition': 'attachment; filename="tavrek-export.jsonl"'
		}
	});
}
