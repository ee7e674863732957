import { json, type RequestHandler } from '@sveltejs/kit';
import { quoteBody } from '$lib/core/exchange/api-schemas';
import { seesCosts, ROLES } from '$lib/core/units/role';
import { toQuoteAnswer } from '$lib/server/api/answers';
import { evidenceOf, readBody, requireBearer } from '$lib/server/api/requests';
import { database } from '$lib/server/database/connection';
import { advise } from '$lib/server/diagnosis/advice';
import { ticketBefore } from '$lib/server/tickets/queries';
import { askerOf } from '$lib/server/http/guard';
import { fittedMemory } from '$lib/server/memory/shop-memory';
import { adviseAside } from '$lib/server/worker/ask';
import { problem } from '$lib/server/http/problem';

export const POST: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ROLES);
	if (bearer instanceof Response) return bearer;
	const body = await readBody(event, quoteBody);
	if (body instanceof Response) return body;
	const { faults, price, technician, customer, ...seen } = body;
	const payer = customer ? { ...customer, name: customer.name ?? '' } : null;
	if (technician !== undefined && !seesCosts(bearer.role)) {
		return problem(422, 'Input refused', 'a price by one technician tells what their hour costs', [
			{ path: 'technician', message: 'is for manager tokens; leave it out for the shop’s mean' }
		]);
	}
	const db = await database();
	const memory = await fittedMemory(db);
	if (technician !== undefined && !memory.catalog.technicians.has(technician)) {
		return problem(422, 'Input refused', 'the technician is unknown', [
			{ path: 'technician', message: `is ${technician}, which the catalog does not hold` }
		]);
	}
	const earlierTicket = await ticketBefore(db, body.comeback_of);
	const evidence = evidenceOf({ ...seen, customer: payer }, memory.catalog, {
		faults,
		before: earlierTicket
	});
	if (evidence instanceof Response) return evidence;
	const asOf = body.as_of ?? null;
	const request = {
		faults: faults ?? null,
		askedMinor: price ?? null,
		technician: technician ?? null
	};
	const { quote } = await adviseAside(evidence, request, asOf, askerOf(event.locals), () =>
		advise(memory, evidence, request)
	);
	return json(toQuoteAnswer(quote, bearer.role));
};
