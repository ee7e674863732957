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
 * @returns the ticket with its new uses as they were taken, and what the shelf was short of; or what is wrong with a named lot
 */
export async function takeFromShelf(
	trx: Knex.Transaction,
	previous: Ticket,
	current: Ticket,
	now: number
): Promise<{ ticket: Ticket; short: Short[] } | Refusal> {
	const fresh = current.parts.filter((use) => !previous.parts.includes(use));
	if (fresh.length === 0 || current.parts === previous.parts) return { ticket: current, short: [] };
	await holdCounter(trx, 'shelf');
	const store = await shelfStore(trx, (await readCounters(trx)).shelf);
	const parts: PartUse[] = [];
	const short: Short[] = [];
	for (const use of current.parts) {
		if (!fresh.includes(use)) {
			parts.push(use);
			continue;
		}
		const pieces = await takenFor(trx, store, use, now);
		if ('field' in pieces) return pieces;
		parts.push(...pieces.uses);
		if (pieces.missing > 0) short.push({ sku: use.sku, quantity: pieces.missing });
	}
	return { ticket: { ...current, parts }, short };
}

/** Pieces that a use took and that were not on the shelf: somebody else had the last one, or it was miscounted. */
export interface Short {
	sku: string;
	quantity: number;
}

async function takenFor(
	trx: Knex.Transaction,
	store: ShelfStore,
	use: PartUse,
	now: number
): Promise<{ uses: PartUse[]; missing: number } | Refusal> {
	const lots = store.lots.filter(({ sku }) => sku === use.sku);
	if (use.lot !== undefined) {
		const named = lots.find(({ code }) => code === use.lot);
		if (!named) return refuse('lot', `names the lot ${use.lot}, which holds no ${use.sku}; scan it again`);
		const earlierUses = (await usesOf(trx, [use.sku])).get(use.sku) ?? [];
		const there = flowOfPart(store, use.sku, earlierUses).onHand.get(named.code) ?? 0;
		return {
			uses: [{ ...use, unitCostMinor: toMinor(named.unit_cost) }],
			missing: Math.max(0, use.quantity - Math.max(0, there))
		};
	}
	// of a part that never lay on the shelf nothing is missing there
	if (lots.length === 0) return { uses: [use], missing: 0 };
	const uses = await usesOf(trx, [use.sku]);
	const key = useKey(999_999_999_999, 1);
	const all = [...(uses.get(use.sku) ?? []), { key, ticket: 0, at: now, quantity: use.quantity, lot: null }];
	const found = flowOfPart(store, use.sku, all).taken.get(key) ?? [];
	const split = splitUse(use, found, store);
	const missing = split.reduce((sum, { lot, quantity }) => sum + (lot === undefined ? quantity : 0), 0);
	return { uses: split, missing };
}

/** A use as its lots have it: each piece of it at what its lot cost. */
export function splitUse(
	use: PartUse,
	pieces: readonly Taken[],
	{ lots }: Pick<ShelfStore, 'lots'>
): PartUse[] {
	return pieces.map(({ lot, quantity }) => {
		const from = lots.find(({ code }) => code === lot);
		return from
			? { ...use, quantity, lot: from.code, unitCostMinor: toMinor(from.unit_cost) }
			: { ...use, quantity };
	});
}
