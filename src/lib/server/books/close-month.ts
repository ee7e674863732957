import type { Catalog } from '$lib/core/catalog/catalog';
import { sumsByMonth, type Books } from '$lib/core/ledger/books';
import {
	figuresOfRecord,
	monthAfter,
	monthKeys,
	monthRows,
	monthStart,
	monthToClose,
	recordOfFigures,
	type MonthRow
} from '$lib/core/ledger/months';
import { warrantyReserve } from '$lib/core/ledger/warranty-reserve';
import { formatInstant } from '$lib/core/units/instant';
import { fromMinor } from '$lib/core/units/money';
import { saveCatalogRecord, type SaveAnswer } from '../catalog/commands';
import { catalogNow } from '../catalog/queries';
import type { Database } from '../database/connection';
import { stockValue } from '../stock/queries';
import { booksNow } from './book-memory';
import { openMoneyAt, warranted } from './queries';

/** Months as they stand: closed ones with the figures that they were closed with. */
export const monthsOf = (books: Books, { records }: Pick<Catalog, 'records'>): MonthRow[] =>
	monthRows(
		new Map(sumsByMonth(books).map((sum) => [sum.key, sum])),
		new Map([...records.month].map(([month, record]) => [month, figuresOfRecord(record)]))
	);

/** The month that may be closed now; null where none is over that is open. */
export const closable = (rows: readonly MonthRow[], now: number, timeZone: string): MonthRow | null =>
	monthToClose(rows, monthKeys(timeZone)(now));

/**
 * Closes the first open month that is over: its figures stand from then on, what changes later falls into the first open one. How
 * the shop stood at its end is kept with them.
 * @param seen profit that was on the screen: where it is another by now, nothing is closed
 */
export async function closeMonth(
	db: Database,
	actor: string,
	now: number,
	{ month, seen }: { month: string; seen: number }
): Promise<SaveAnswer> {
	const catalog = await catalogNow(db);
	const { timeZone, warrantyDays } = catalog.shop;
	const books = await booksNow(db, timeZone);
	const next = closable(monthsOf(books, catalog), now, timeZone);
	if (next?.month !== month) {
		const words = next ? `the next one to be closed is ${next.month}` : 'no month that is over is open';
		return { ok: false, field: 'month', message: `is ${month}; ${words}` };
	}
	if (next.profitMinor !== seen) {
		return {
			ok: false,
			field: 'month',
			message: `${month} has changed since you looked: its profit is ${fromMinor(next.profitMinor).toFixed(2)} now; look again, then close it`
		};
	}
	const ends = monthStart(monthAfter(month), timeZone);
	const [open, stock] = await Promise.all([openMoneyAt(db, ends), stockValue(db, ends)]);
	const { expectedMinor } = warrantyReserve(warranted(books), {
		asOf: ends,
		warrantyDays,
		causes: catalog.records.cause
	});
	const saved = await saveCatalogRecord(
		db,
		actor,
		now,
		{
			record: 'month',
			month,
			closed_at: formatInstant(now),
			by: actor,
			...recordOfFigures(next),
			deposits: fromMinor(open.depositsMinor),
			owed: fromMinor(open.owedMinor),
			stock: fromMinor(stock),
			reserve: fromMinor(expectedMinor)
		},
		null
	);
	// another manager closed it at the same moment
	return saved.ok
		? saved
		: { ok: false, field: 'month', message: `is ${month}, which was closed already; reload to see it` };
}
