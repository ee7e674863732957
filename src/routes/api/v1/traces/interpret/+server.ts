import { json, type RequestHandler } from '@sveltejs/kit';
import { interpretLog } from '$lib/core/charging/interpret-log';
import { readLogText } from '$lib/csv/read-log';
import { toTraceAnswer } from '$lib/server/api/answers';
import { requireBearer } from '$lib/server/api/requests';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/diagnosis/shop-memory';
import { problem } from '$lib/server/house/problem';

/** Half a million rows of a wordy meter take less. */
const MOST_BYTES = 64 * 1024 * 1024;

export const POST: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ['manager', 'counter', 'technician']);
	if (bearer instanceof Response) return bearer;
	if (Number(event.request.headers.get('content-length') ?? 0) > MOST_BYTES) {
		return problem(
			413,
			'Too large',
			'a log has at most 64 MiB and 500,000 rows; cut it, or let the meter write less often'
		);
	}
	const { catalog } = await shopMemory(await database());
	const asked = event.url.searchParams.get('model');
	const model = asked === null ? null : catalog.models.get(asked);
	if (model === undefined) {
		return problem(422, 'Input refused', 'the model is not known', [
			{ path: 'model', message: `names the model ${JSON.stringify(asked)}, which the shop does not define` }
		]);
	}
	const read = readLogText(await event.request.text());
	if (!read.ok)
		return problem(422, 'Input refused', 'the log could not be read', [{ path: '', message: read.message }]);
	return json(toTraceAnswer(interpretLog(read.dialect, read.log, model?.charge?.amps ?? null)));
};
