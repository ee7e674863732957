import { json, type RequestHandler } from '@sveltejs/kit';
import { requireBearer } from '$lib/server/api/requests';
import { database } from '$lib/server/database/connection';
import { importLines } from '$lib/server/exchange/import';
import { problem } from '$lib/server/house/problem';

export const POST: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ['manager']);
	if (bearer instanceof Response) return bearer;
	const mode = event.url.searchParams.get('mode') ?? 'strict';
	if (mode !== 'strict' && mode !== 'lenient') {
		return problem(400, 'Unknown mode', `mode is ${JSON.stringify(mode)}; leave it out or write lenient`);
	}
	const answer = await importLines(
		await database(),
		bearer.name,
		Date.now(),
		await event.request.text(),
		mode
	);
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
