import { ROLES } from '$lib/core/units/role';
import { json, type RequestHandler } from '@sveltejs/kit';
import { toTraceAnswer } from '$lib/server/api/answers';
import { requireBearer } from '$lib/server/api/requests';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { readTrace } from '$lib/server/worker/ask';
import { askerOf } from '$lib/server/http/guard';
import { problem } from '$lib/server/http/problem';

export const POST: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ROLES);
	if (bearer instanceof Response) return bearer;
	const { catalog } = await shopMemory(await database());
	const modelCode = event.url.searchParams.get('model');
	const model = modelCode === null ? null : catalog.models.get(modelCode);
	if (model === undefined) {
		return problem(422, 'Input refused', 'the model is not known', [
			{
				path: 'model',
				message: `names the model ${JSON.stringify(modelCode)}, which the shop does not define`
			}
		]);
	}
	const read = await readTrace(
		new Uint8Array(await event.request.arrayBuffer()),
		model?.charge?.amps ?? null,
		askerOf(event.locals)
	);
	if (!read.ok) {
		return problem(422, 'Input refused', 'the log could not be read', [{ path: '', message: read.message }]);
	}
	return json(toTraceAnswer(read.log));
};
