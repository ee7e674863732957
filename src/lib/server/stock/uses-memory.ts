import type { PartUsed } from '$lib/core/stock/shelf';
import type { Database, Queryable } from '../database/connection';
import { inPieces } from '../database/chunks';
import { readCounters } from '../database/counters';
import { keptUp } from '../database/kept-up';
import { rowsOfUses, type UseOfPart } from './uses';

interface Memory {
	seq: number;
	byTicket: Map<number, UseOfPart[]>;
	/** lists are made anew where they change: one that is the same is not looked at again */
	bySku: Map<string, readonly PartUsed[]>;
}

const memoryNow = keptUp<Memory>(async (db, memory) => {
	const { uses: seq } = await readCounters(db);
	if (memory?.seq === seq) return memory;
	const kept = memory ?? { seq: 0, byTicket: new Map(), bySku: new Map() };
	if (memory) await readChanged(db, kept);
	else putUses(kept, [], await rowsOfUses(db));
	return { ...kept, seq };
});

/** Every use of every part; only tickets whose parts changed are read again. */
export const usesNow = async (db: Database): Promise<ReadonlyMap<string, readonly PartUsed[]>> =>
	(await memoryNow(db)).bySku;

const CHUNK = 2000;

async function readChanged(db: Queryable, memory: Memory): Promise<void> {
	const rows = (await db('tickets').where('uses_seq', '>', memory.seq).select('id')) as { id: number }[];
	for (const some of inPieces(
		rows.map(({ id }) => id),
		CHUNK
	)) {
		putUses(memory, some, await rowsOfUses(db, (query) => query.whereIn('ticket_id', some)));
	}
}

/** Puts the uses of some tickets in the place of what they were. */
function putUses({ byTicket, bySku }: Memory, tickets: readonly number[], uses: readonly UseOfPart[]): void {
	const changed = new Set(tickets);
	const skus = new Set(uses.map(({ sku }) => sku));
	for (const id of tickets) {
		for (const { sku } of byTicket.get(id) ?? []) skus.add(sku);
		byTicket.delete(id);
	}
	const fresh = new Map<string, PartUsed[]>();
	for (const use of uses) {
		const { sku, used } = use;
		const own = byTicket.get(used.ticket);
		if (own) own.push(use);
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
