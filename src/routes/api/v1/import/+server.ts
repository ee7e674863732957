import { json, type RequestHandler } from '@sveltejs/kit';
import { requireBearer } from '$lib/server/api/requests';
import { ImportStopped, type ImportAnswer } from '$lib/server/exchange/import';
import { runImport } from '$lib/server/worker/importer';
import { problem } from '$lib/server/http/problem';

export const POST: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ['manager']);
	if (bearer instanceof Response) return bearer;
	const mode = event.url.searchParams.get('mode') ?? 'strict';
	if (mode !== 'strict' && mode !== 'lenient') {
		return problem(400, 'Unknown mode', `mode is ${JSON.stringify(mode)}; leave it out or write lenient`);
	}
	const bytes = new Uint8Array(await event.request.arrayBuffer());
	const request = { bytes, actor: bearer.name, now: Date.now(), mode } as const;
	let answer: ImportAnswer;
	try {
		answer = await runImport(request, () => {}, event.request.signal);
	} catch (error) {
		if (error instanceof ImportStopped) return problem(503, 'Not now', error.message);
		throw error;
	}
	if (mode === 'strict' && answer.rejected.length > 0) {
		return problem(
			422,
			'Input refused',
			'nothing was imported; mend the lines and send all again',
			answer.rejected
		);
	}
	return json(answer);
};
