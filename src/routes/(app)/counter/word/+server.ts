import { json, type RequestHandler } from '@sveltejs/kit';
import { z } from 'zod';
import { MATTERS } from '$lib/core/tickets/ticket-entries';
import { openedTicket } from '$lib/core/tickets/ticket-record';
import { codeRecord, codeSchema } from '$lib/core/units/code';
import { LATEST_INSTANT } from '$lib/core/units/instant';
import { database } from '$lib/server/database/connection';
import { askerOf, requireUser } from '$lib/server/http/guard';
import { firstRefusal, readJson } from '$lib/server/http/read-json';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { wordFor } from '$lib/server/worker/ask';

const wordBody = z.strictObject({
	model: codeSchema,
	kind: z.enum(['private', 'trade']),
	matters: z.enum(MATTERS),
	signs: codeRecord(z.boolean()),
	claim: codeSchema.nullable(),
	promisedAt: z.int().min(0).max(LATEST_INSTANT).nullable()
});

/** What may be said at the counter before a device is accepted: likely fault, prices, the earliest honest date. Keeps nothing. */
export const POST: RequestHandler = async ({ locals, request }) => {
	requireUser(locals);
	const parsed = await readJson(request, wordBody);
	if (!parsed.ok) return json({ refusal: firstRefusal(parsed.errors) }, { status: 422 });
	const { model, kind, matters, signs, claim, promisedAt } = parsed.value;
	const catalog = await shopCatalog(await database());
	if (!catalog.models.has(model))
		return json({ refusal: { field: 'model', message: 'is not known' } }, { status: 422 });
	const now = Date.now();
	const knownSigns = Object.fromEntries(Object.entries(signs).filter(([sign]) => catalog.signs.has(sign)));
	const ticket = {
		...openedTicket('K-0', now, model),
		customer: { name: '-', kind },
		matters,
		signs: knownSigns,
		opinions: claim && catalog.faults.has(claim) ? [{ from: 'customer' as const, fault: claim, at: now }] : []
	};
	return json(await wordFor(ticket, now, promisedAt, askerOf(locals)));
};
