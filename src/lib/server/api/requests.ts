import { knownIn } from '$lib/core/evidence/known-codes';
import type { z } from 'zod';
import type { RequestEvent } from '@sveltejs/kit';
import { type Catalog } from '$lib/core/catalog/catalog';
import { unmetOf } from '$lib/core/exchange/check-references';
import type { oddsBody } from '$lib/core/exchange/api-schemas';
import type { EarlierWork } from '$lib/core/diagnosis/learn/earlier-work';
import { openedTicket, type Ticket } from '$lib/core/tickets/ticket-record';
import type { Role } from '$lib/core/units/role';
import { earlierWork } from '../diagnosis/earlier-work';
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

/** What a call says of the shop's earlier work on a device, or names the ticket of. */
type Evidenced = Ticket & { earlier?: EarlierWork[] | undefined };

/**
 * Evidence of a stateless call, checked against the catalog like a ticket's.
 * @param before the ticket that `comeback_of` names; null where it names none, or one that is not there
 */
export function evidenceOf(
	body: z.output<typeof oddsBody>,
	catalog: Catalog,
	{ faults, before: earlierTicket }: { faults?: readonly string[] | undefined; before: Ticket | null }
): Evidenced | Response {
	const { as_of: asOf, model, worth, earlier, comeback_of: first, ...evidence } = body;
	const unknown = (earlier ?? []).flatMap(({ operation }, i) =>
		catalog.operations.has(operation)
			? []
			: [
					{
						path: `earlier.${i}.operation`,
						message: `names the operation ${operation}, which the catalog does not hold`
					}
				]
	);
	if (first !== undefined && !earlierTicket)
		unknown.push({
			path: 'comeback_of',
			message: `names the ticket ${first}, which is not there; check its number`
		});
	const earlierRepairs = earlierTicket ? earlierWork(earlierTicket, asOf ?? Date.now()) : earlier;
	const ticket: Evidenced = {
		...openedTicket('odds', 0, model),
		...evidence,
		...(worth === undefined ? {} : { worthMinor: worth }),
		faults: faults ? [...faults] : null,
		...(earlierRepairs ? { earlier: earlierRepairs } : {})
	};
	const errors = [...unknown, ...unmetOf('ticket', ticket, knownIn(catalog))];
	if (errors.length === 0) return ticket;
	return problem(422, 'Input refused', 'the evidence names what the catalog does not hold', errors);
}
