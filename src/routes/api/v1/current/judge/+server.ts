import { ROLES } from '$lib/core/units/role';
import { json, type RequestHandler } from '@sveltejs/kit';
import { judgeCurrent } from '$lib/core/charging/judge-current';
import { judgeSupplies } from '$lib/core/charging/judge-supply';
import { plugContext } from '$lib/core/charging/judge-plug-in';
import { soakDrain } from '$lib/core/charging/soak';
import { judgeBody } from '$lib/core/exchange/api-schemas';
import { toJudgeAnswer } from '$lib/server/api/answers';
import { readBody, requireBearer } from '$lib/server/api/requests';
import { database } from '$lib/server/database/connection';
import { problem } from '$lib/server/http/problem';
import { shopMemory } from '$lib/server/memory/shop-memory';

export const POST: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ROLES);
	if (bearer instanceof Response) return bearer;
	const body = await readBody(event, judgeBody);
	if (body instanceof Response) return body;
	const { catalog } = await shopMemory(await database());
	const model = catalog.models.get(body.model);
	if (!model) {
		const message = `names the model ${JSON.stringify(body.model)}, which the shop does not define`;
		return problem(422, 'Input refused', 'the catalog does not hold the model', [{ path: 'model', message }]);
	}
	const soak = body.soak.length > 0 ? soakDrain(body.soak, model.drain?.percent_per_hour ?? null) : null;
	const current = judgeCurrent(plugContext(catalog, model.code, null), body);
	return json(toJudgeAnswer(current, soak, judgeSupplies(body.supply)));
};
