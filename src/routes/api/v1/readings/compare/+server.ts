import { ROLES } from '$lib/core/units/role';
import { json, type RequestHandler } from '@sveltejs/kit';
import { compareBody } from '$lib/core/exchange/api-schemas';
import { compareReadings } from '$lib/core/readings/compare';
import { EMPTY_BOOK } from '$lib/core/readings/known-good-book';
import { readBody, requireBearer } from '$lib/server/api/requests';
import { toCompareAnswer } from '$lib/server/api/answers';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { problem } from '$lib/server/http/problem';

export const POST: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ROLES);
	if (bearer instanceof Response) return bearer;
	const body = await readBody(event, compareBody);
	if (body instanceof Response) return body;
	const { catalog, shelf } = await shopMemory(await database());
	const refuse = (path: string, message: string) =>
		problem(422, 'Input refused', 'the readings name what the catalog does not hold', [{ path, message }]);
	const model = body.model === undefined ? null : catalog.models.get(body.model);
	if (model === undefined)
		return refuse('model', `names the model ${JSON.stringify(body.model)}, which the shop does not define`);
	const code = body.connector ?? model?.connector;
	const connector = catalog.connectors.get(code ?? '');
	if (!connector) {
		return code === undefined
			? refuse('model', `${body.model} names no connector; give one in "connector"`)
			: refuse('connector', `names the connector ${JSON.stringify(code)}, which the shop does not define`);
	}
	const pins = new Set(connector.pins.map(({ pin }) => pin));
	const odd = body.readings.findIndex(({ pin }) => !pins.has(pin));
	if (odd >= 0) {
		const pin = JSON.stringify(body.readings[odd]?.pin);
		return refuse(`readings.${odd}.pin`, `is ${pin}; connector ${connector.code} has no such contact`);
	}
	return json(
		toCompareAnswer(compareReadings(connector, body.readings, model ? shelf.book(model.code) : EMPTY_BOOK))
	);
};
