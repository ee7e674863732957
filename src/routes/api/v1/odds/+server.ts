import { ROLES } from '$lib/core/units/role';
import { json, type RequestHandler } from '@sveltejs/kit';
import { oddsAsked } from '$lib/core/exchange/api-schemas';
import { toOddsAnswer } from '$lib/server/api/answers';
import { evidenceOf, readBody, requireBearer } from '$lib/server/api/requests';
import { database } from '$lib/server/database/connection';
import { adviseSteps, STEPS_OF_THE_API } from '$lib/server/diagnosis/advice';
import { ticketBefore } from '$lib/server/tickets/queries';
import { stepsAside } from '$lib/server/worker/ask';
import { askerOf } from '$lib/server/http/guard';
import { fittedMemory } from '$lib/server/memory/shop-memory';

export const POST: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ROLES);
	if (bearer instanceof Response) return bearer;
	const request = await readBody(event, oddsAsked);
	if (request instanceof Response) return request;
	const { give_up_cost: lossMinor, measures, ...body } = request;
	const db = await database();
	const memory = await fittedMemory(db);
	const earlierTicket = await ticketBefore(db, body.comeback_of);
	const evidence = evidenceOf(body, memory.catalog, { before: earlierTicket });
	if (evidence instanceof Response) return evidence;
	const asOf = body.as_of ?? null;
	const { inference, plan } = await stepsAside(
		evidence,
		{ asOf, lossMinor, measures },
		askerOf(event.locals),
		() => adviseSteps(memory, evidence, { ...STEPS_OF_THE_API, lossMinor, measures })
	);
	return json(toOddsAnswer(inference.odds, plan, bearer.role, { measures }));
};
