import type { Database } from '../database/connection';
import { exportLines } from './export';

/** The export as a streamed download: a chunk is read from the database when the reader asks for it. */
export function exportResponse(db: Database): Response {
	const lines = exportLines(db);
	const encoder = new TextEncoder();
	const body = new ReadableStream<Uint8Array>({
		async pull(controller) {
			const { value, done } = await lines.next();
			if (done) controller.close();
			else controller.enqueue(encoder.encode(value));
		},
		async cancel() {
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
