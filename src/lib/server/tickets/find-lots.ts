import type { Knex } from 'knex';
import type { Catalog } from '$lib/core/catalog/catalog';
import type { Taken } from '$lib/core/stock/shelf-flow';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { inPieces } from '../database/chunks';
import { flowOfPart, readShelfStore } from '../stock/queries';
import { useKey, usesOf } from '../stock/uses';
import { splitUse } from '../stock/take-from-shelf';
import { drawTables } from './drawn-tables';
import { putRows, selectTickets, ticketColumns, toStoredTicket } from './rows';

const CHUNK = 500;

/**
 * Parts that came in without saying where from: each use of these parts without a lot is taken from the oldest that had come in by
 * then and had stock, in the order of time over all tickets; the lots then stand on the tickets.
 * @returns ids of the tickets that have other parts now
 */
export async function findLots(
	trx: Knex.Transaction,
	skus: readonly string[],
	catalog: Catalog
): Promise<number[]> {
	const store = await readShelfStore(trx);
	const stocked = skus.filter((sku) => store.lots.some((lot) => lot.sku === sku));
	if (stocked.length === 0) return [];
	const uses = await usesOf(trx, stocked);
	const pieces = new Map<string, Taken[]>();
	const tickets = new Set<number>();
	for (const sku of stocked) {
		const lotUses = uses.get(sku) ?? [];
		const found = flowOfPart(store, sku, lotUses).taken;
		for (const { key, ticket } of lotUses) {
			const lots = found.get(key);
			if (!lots?.some(({ lot }) => lot !== null)) continue;
			pieces.set(key, lots);
			tickets.add(ticket);
		}
	}
	for (const ids of inPieces([...tickets], CHUNK)) {
		const rows = await selectTickets(trx).whereIn('tickets.id', ids);
		const changed = rows.map((row) => {
			const { id, ticket, customerId } = toStoredTicket(row);
			const parts = ticket.parts.flatMap((use, i) => {
				const lots = pieces.get(useKey(id, i + 1));
				return lots ? withStatedCost(splitUse(use, lots, store), use) : [use];
			});
			return { id, customerId, ticket: { ...ticket, parts } };
		});
		await putRows(
			trx,
			changed.map(({ ticket, customerId }) => ticketColumns(ticket, customerId, catalog))
		);
		await drawTables(trx, new Map(changed.map(({ id, ticket }) => [id, ticket])));
	}
	return [...tickets];
}

/** What a record says that its part cost stays so. */
const withStatedCost = (uses: Ticket['parts'], { unitCostMinor }: Ticket['parts'][number]) =>
	unitCostMinor === undefined ? uses : uses.map((use) => ({ ...use, unitCostMinor }));
