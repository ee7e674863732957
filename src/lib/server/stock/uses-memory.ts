import type { PartUsed } from '$lib/core/stock/shelf';
import type { Database } from '../database/connection';
import { inPieces } from '../database/chunks';
import { projection } from '../database/projection';
import { rowsOfUses, type UseOfPart } from './uses';

interface UsesCopy {
	byTicket: Map<number, UseOfPart[]>;
	/** lists are made anew where they change: one that is the same is not looked at again */
	bySku: Map<string, readonly PartUsed[]>;
}

const CHUNK = 2000;

const usesProjection = projection<UsesCopy>({
	counter: 'uses',
	empty: () => ({ byTicket: new Map(), bySku: new Map() }),
	async putChanged(db, copy, since) {
		if (since === 0) return putUses(copy, [], await rowsOfUses(db));
		const rows = await db('tickets').where('uses_seq', '>', since).select('id');
		const ids = rows.map(({ id }) => id);
		for (const chunk of inPieces(ids, CHUNK)) {
			putUses(copy, chunk, await rowsOfUses(db, (query) => query.whereIn('ticket_id', chunk)));
		}
	}
});

/** Every use of every part; only tickets whose parts changed are read again. */
export const usesNow = async (db: Database): Promise<ReadonlyMap<string, readonly PartUsed[]>> =>
	(await usesProjection(db)).copy.bySku;

/** Puts the uses of some tickets in the place of what they were. */
function putUses(
	{ byTicket, bySku }: UsesCopy,
	tickets: readonly number[],
	uses: readonly UseOfPart[]
): void {
	const changed = new Set(tickets);
	const skus = new Set(uses.map(({ sku }) => sku));
	for (const id of tickets) {
		for (const { sku } of byTicket.get(id) ?? []) skus.add(sku);
		byTicket.delete(id);
	}
	const fresh = new Map<string, PartUsed[]>();
	for (const use of uses) {
		const { sku, used } = use;
		const ticketUses = byTicket.get(used.ticket);
		if (ticketUses) ticketUses.push(use);
		else byTicket.set(used.ticket, [use]);
		const list = fresh.get(sku);
		if (list) list.push(used);
		else fresh.set(sku, [used]);
	}
	for (const sku of skus) {
		const stay = (bySku.get(sku) ?? []).filter(({ ticket }) => !changed.has(ticket));
		bySku.set(sku, [...stay, ...(fresh.get(sku) ?? [])]);
	}
}
