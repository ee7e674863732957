import { knownIn } from '$lib/core/evidence/known-codes';
import type { z } from 'zod';
import type { RequestEvent } from '@sveltejs/kit';
import { type Catalog } from '$lib/core/catalog/catalog';
import { unmetOf } from '$lib/core/exchange/check-references';
import type { oddsBody } from '$lib/core/exchange/api-schemas';
import { openedTicket, type Ticket } from '$lib/core/tickets/ticket-record';
import type { Role } from '$lib/core/units/role';
import { notSignedIn, problem } from '../http/problem';
import { readJson } from '../http/read-json';
import type { Bearer } from '../identity/api-tokens';

/** The bearer of a call that needs one of some roles, or the refusal to send. */
export function requireBearer({ locals }: RequestEvent, roles: readonly Role[]): Bearer | Response {
	if (!locals.bearer) return notSignedIn();
	if (roles.includes(locals.bearer.role)) return locals.bearer;
	return problem(
		403,
		'Not allowed',
		`this call needs a token of ${roles.join(' or ')}; yours is of ${locals.bearer.role}`
	);
}

/** Reads a JSON body by its schema, or words what is wrong with it. */
export async function readBody<Schema extends z.ZodType>(
	{ request }: RequestEvent,
	schema: Schema
): Promise<z.output<Schema> | Response> {
	const read = await readJson(request, schema);
	if (read.ok) return read.value;
	if (!read.json) return problem(400, 'Not JSON', 'the body is not JSON; send one JSON object');
	return problem(
		422,
		'Input refused',
		'some fields are not as the schema says; nothing was done',
		read.errors
	);
}

/** Evidence of a stateless call, checked against the catalog like a ticket's. */
export function evidenceOf(body: z.output<typeof oddsBody>, catalog: Catalog, faults?: readonly string[]) {
	const { as_of: _, model, worth, ...evidence } = body;
	const ticket: Ticket = {
		...openedTicket('odds', 0, model),
		...evidence,
		...(worth === undefined ? {} : { worthMinor: worth }),
		faults: faults ? [...faults] : null
	};
	const errors = unmetOf('ticket', ticket, knownIn(catalog));
	if (errors.length === 0) return ticket;
	return problem(422, 'Input refused', 'the evidence names what the catalog does not hold', errors);
}
