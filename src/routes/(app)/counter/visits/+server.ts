import { json, type RequestHandler } from '@sveltejs/kit';
import { codeWords } from '$lib/core/units/code';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/house/guard';
import { earlierVisits } from '$lib/server/tickets/queries';

/** Earlier tickets that the device on the counter may come back from. */
export const GET: RequestHandler = async ({ locals, url }) => {
	requireUser(locals);
	const text = (name: string) => url.searchParams.get(name)?.trim().slice(0, 200) || null;
	const found = { serial: text('serial'), customer: text('customer'), model: text('model') };
	const db = await database();
	const [visits, { catalog }] = await Promise.all([earlierVisits(db, found), shopMemory(db)]);
	const labelOf = (fault: string) => catalog.faults.get(fault)?.label ?? codeWords(fault);
	return json(visits.map((visit) => ({ ...visit, faults: visit.faults.map(labelOf) })));
};
