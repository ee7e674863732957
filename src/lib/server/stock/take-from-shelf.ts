import type { Knex } from 'knex';
import { toMinor } from '$lib/core/units/money';
import type { Taken } from '$lib/core/stock/shelf-flow';
import { refuse, type Refusal } from '$lib/core/tickets/refusal';
import type { PartUse, Ticket } from '$lib/core/tickets/ticket-record';
import { holdCounter, readCounters } from '../database/counters';
import { flowOfPart, shelfStore, type ShelfStore } from './queries';
import { useKey, usesOf } from './uses';

/**
 * Parts that a change uses are taken from the shelf: from the lot that was named, else from the oldest with stock, at what that
 * cost; split where one lot is not enough. Uses take turns, so that no piece is taken twice. What no lot has stands without one.
 * @returns the ticket with its new uses as they were taken, or what is wrong with a named lot
 */
export async function takeFromShelf(
	trx: Knex.Transaction,
	before: Ticket,
	after: Ticket,
	now: number
): Promise<Ticket | Refusal> {
	const fresh = after.parts.filter((use) => !before.parts.includes(use));
	if (fresh.length === 0 || after.parts === before.parts) return after;
	await holdCounter(trx, 'shelf');
	const store = await shelfStore(trx, (await readCounters(trx)).shelf);
	const parts: PartUse[] = [];
	for (const use of after.parts) {
		const taken = fresh.includes(use) ? await takenFor(trx, store, use, now) : [use];
		if ('field' in taken) return taken;
		parts.push(...taken);
	}
	return { ...after, parts };
}

async function takenFor(
	trx: Knex.Transaction,
	store: ShelfStore,
	use: PartUse,
	now: number
): Promise<PartUse[] | Refusal> {
	const lots = store.lots.filter(({ sku }) => sku === use.sku);
	if (use.lot !== undefined) {
		const named = lots.find(({ code }) => code === use.lot);
		if (!named) return refuse('lot', `names the lot ${use.lot}, which holds no ${use.sku}; scan it again`);
		return [{ ...use, unitCostMinor: toMinor(named.unit_cost) }];
	}
	if (lots.length === 0) return [use];
	const uses = await usesOf(trx, [use.sku]);
	const key = useKey(999_999_999_999, 1);
	const all = [...(uses.get(use.sku) ?? []), { key, ticket: 0, at: now, quantity: use.quantity, lot: null }];
	const found = flowOfPart(store, use.sku, all).taken.get(key) ?? [];
	return splitUse(use, found, store);
}

/** A use as its lots have it: each piece of it at what its lot cost. */
export function splitUse(
	use: PartUse,
	taken: readonly Taken[],
	{ lots }: Pick<ShelfStore, 'lots'>
): PartUse[] {
	return taken.map(({ lot, quantity }) => {
		const from = lots.find(({ code }) => code === lot);
		return from
			? { ...use, quantity, lot: from.code, unitCostMinor: toMinor(from.unit_cost) }
			: { ...use, quantity };
	});
}
