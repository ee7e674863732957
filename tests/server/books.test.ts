import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { latestLines, sumOfAll, sumsBy, sumsByMonth, sumsByModel } from '$lib/core/ledger/books';
import { monthKeys } from '$lib/core/ledger/months';
import { owedOf, paymentsOf } from '$lib/core/tickets/money';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import { ticketFromRecord, ticketToRecord, type Ticket } from '$lib/core/tickets/ticket-record';
import { DAY_MS } from '$lib/core/units/instant';
import { booksNow } from '$lib/server/books/book-memory';
import { closable, closeMonth, monthsOf } from '$lib/server/books/close-month';
import { moneyIn, openMoney, openMoneyAt, owedInvoices } from '$lib/server/books/queries';
import { catalogNow } from '$lib/server/catalog/queries';
import type { Database } from '$lib/server/database/connection';
import { migrate } from '$lib/server/database/migrate';
import { exportLines } from '$lib/server/exchange/export';
import { importLines } from '$lib/server/exchange/import';
import { shelfNow, shelfThisHour, stockValue } from '$lib/server/stock/queries';
import { usesOf } from '$lib/server/stock/uses';
import { usesNow } from '$lib/server/stock/uses-memory';
import { selectTickets, ticketColumns, toStoredTicket, type TicketRow } from '$lib/server/tickets/rows';
import { findTicket } from '$lib/server/tickets/queries';
import { freshDatabaseUrl } from './fresh-database';
import { changed, NOW, records, smallShop, takenIn } from './small-shop';

const ZONE = 'Europe/Lisbon';
const ALL = { month: '', model: '' };
let db: Database;

beforeAll(async () => {
	db = await smallShop();
});
afterAll(() => db.destroy());

const change = (number: string, input: TicketChangeInput, now?: number) => changed(db, number, input, now);
const allTickets = async (shop: Database) =>
	((await selectTickets(shop)) as TicketRow[]).map((row) => ({
		id: row.id,
		ticket: toStoredTicket(row).ticket
	}));

/** Payments as they stand in their table, by ticket. */
async function drawn(shop: Database) {
	const rows = (await shop('payments').orderBy(['ticket_id', 'n']).select()) as {
		ticket_id: number;
		at: Date;
		amount_minor: number | string;
		tax_minor: number | string;
		paid_by: string | null;
		settles: unknown;
	}[];
	return rows.map((row) => [
		row.ticket_id,
		row.at.getTime(),
		Number(row.amount_minor),
		Number(row.tax_minor),
		row.paid_by,
		Boolean(row.settles)
	]);
}
const told = (tickets: readonly { id: number; ticket: Ticket }[]) =>
	tickets.flatMap(({ id, ticket }) =>
		paymentsOf(ticket).map(({ at, amountMinor, taxMinor, by, settles }) => [
			id,
			at,
			amountMinor,
			taxMinor,
			by,
			settles
		])
	);

describe('payments', () => {
	it('are drawn as the tickets tell them: imported, taken at the counter, on an invoice, settled, given back', async () => {
		const number = await takenIn(db);
		await change(number, { verb: 'pay', amountMinor: 2000, by: 'cash' });
		await change(number, {
			verb: 'close',
			outcome: 'not-fixed',
			faults: [],
			paidMinor: 7000,
			paidBy: 'invoice'
		});
		await change(number, { verb: 'settle', amountMinor: 1500, by: 'transfer' });
		await change(number, { verb: 'pay', amountMinor: -500, by: 'card' });
		await change(number, { verb: 'collect' });
		const tickets = await allTickets(db);
		expect(await drawn(db)).toEqual(told(tickets.sort((a, b) => a.id - b.id)));
		const row = (await db('tickets').where({ number }).first()) as Record<string, unknown>;
		const { ticket } = tickets.find((each) => each.ticket.number === number) as { ticket: Ticket };
		expect([Number(row.owed_minor), Number(row.paid_minor)]).toEqual([owedOf(ticket), 6500]);
		expect(row.collected_at).toEqual(new Date(NOW));
	});
	it('what the shop holds and is owed is what its tickets say', async () => {
		const open = await takenIn(db);
		await change(open, { verb: 'quote', priceMinor: 9000 });
		await change(open, { verb: 'answer', accepted: true });
		await change(open, { verb: 'pay', amountMinor: 2500, by: 'card' });
		const tickets = (await allTickets(db)).map(({ ticket }) => ticket);
		const still = tickets.filter(({ closedAt }) => closedAt === null);
		const sum = (values: number[]) => values.reduce((a, b) => a + b, 0);
		const money = await openMoney(db, NOW + 400 * DAY_MS);
		expect(money.depositsMinor).toBe(sum(still.map(({ paidMinor }) => paidMinor ?? 0)));
		const promised = still.filter(({ accepted }) => accepted);
		expect(money.promisedMinor).toBe(
			sum(promised.map(({ quotedMinor, paidMinor }) => Math.max(0, (quotedMinor ?? 0) - (paidMinor ?? 0))))
		);
		expect(money.promises).toBe(promised.length);
		const owing = tickets.filter((ticket) => owedOf(ticket) > 0);
		expect([money.owedMinor, money.owed, money.overdue]).toEqual([
			sum(owing.map(owedOf)),
			owing.length,
			owing.length
		]);
		expect((await owedInvoices(db, 999)).map(({ owedMinor }) => owedMinor).sort()).toEqual(
			owing.map(owedOf).sort()
		);
		// what came in over all time by how, and what stood open at a moment, add up with the same payments
		const payments = tickets.flatMap(paymentsOf);
		const came = await moneyIn(db, 0, NOW + DAY_MS);
		expect(came.cash + came.card + came.transfer + came.unsaid).toBe(
			sum(payments.filter(({ by }) => by !== 'invoice').map(({ amountMinor }) => amountMinor))
		);
		const at = await openMoneyAt(db, NOW + DAY_MS);
		expect(at).toEqual({ depositsMinor: money.depositsMinor, owedMinor: money.owedMinor });
	});
	it('an upgrade draws what accepted prices are for as a save would', async () => {
		const { db: old } = await freshDatabaseUrl();
		await migrate(old, '006-shelf');
		const agreed = records.filter((record) => {
			const { record: kind, closed_at, accepted } = record as Record<string, unknown>;
			return kind === 'ticket' && !closed_at && accepted;
		}) as Record<string, unknown>[];
		expect(agreed.length).toBeGreaterThan(0);
		for (const record of agreed) {
			await old('tickets').insert({
				...row(String(record.number), null, null),
				accepted: true,
				record: JSON.stringify({ ...record, customer: undefined })
			});
		}
		await migrate(old);
		for (const record of agreed) {
			const stored = await old('tickets')
				.where({ number: String(record.number) })
				.first('agreed');
			const { agreed: drawnNow } = ticketColumns(ticketFromRecord(record), null, await catalogNow(db));
			expect(stored?.agreed).toBe(drawnNow);
		}
		await old.destroy();
	});
	const row = (number: string, closed: number | null, paid: number | null) => ({
		number,
		model: 'm',
		opened_at: new Date(NOW - DAY_MS),
		closed_at: closed === null ? null : new Date(closed),
		outcome: closed === null ? null : ('fixed' as const),
		paid_minor: paid,
		record: JSON.stringify({ record: 'ticket', number, model: 'm' })
	});
	it('an upgrade fills them with what was paid, at its closing', async () => {
		const { db: old } = await freshDatabaseUrl();
		await migrate(old, '006-shelf');
		await old('tickets').insert([
			row('A', NOW, 8900),
			row('B', NOW, 0),
			row('C', null, null),
			row('D', null, 500)
		]);
		await migrate(old);
		expect((await drawn(old)).map(([, ...rest]) => rest)).toEqual([
			[NOW, 8900, 0, null, false],
			[NOW - DAY_MS, 500, 0, null, false]
		]);
		const columns = (await old('tickets').select(
			'tax_minor',
			'owed_minor',
			'due_at',
			'collected_at'
		)) as object[];
		expect(new Set(columns.map((each) => JSON.stringify(each)))).toEqual(
			new Set([JSON.stringify({ tax_minor: 0, owed_minor: 0, due_at: null, collected_at: null })])
		);
		await old.destroy();
	});
});

describe('books in memory', () => {
	const figures = async (shop: Database) => {
		const books = await booksNow(shop, ZONE);
		const sorted = <Item extends { key: string; tickets: number }>(items: Item[]) =>
			items.filter(({ tickets }) => tickets > 0).sort((a, b) => (a.key < b.key ? -1 : 1));
		return {
			all: sumOfAll(books, ALL),
			months: sumsByMonth(books),
			models: sorted(sumsByModel(books)),
			operations: sorted(sumsBy(books, 'operation', ALL)),
			customers: sorted(sumsBy(books, 'customer', ALL)),
			latest: latestLines(books, ALL, 30)
		};
	};
	it('follow every change, and are what reading everything anew gives', async () => {
		await figures(db);
		const number = await takenIn(db);
		await change(number, {
			verb: 'attempt',
			operation: 'replace-port',
			technician: 'ines',
			minutes: 30,
			resolved: false
		});
		await change(number, { verb: 'close', outcome: 'not-fixed', faults: [], paidMinor: 1500 });
		const back = await takenIn(db);
		await change(back, { verb: 'comeback', of: number });
		await change(back, {
			verb: 'attempt',
			operation: 'clean-port',
			technician: 'bram',
			minutes: 12,
			resolved: false
		});
		await change(back, { verb: 'close', outcome: 'not-fixed', faults: [], paidMinor: 0 });
		await change(number, { verb: 'pay', amountMinor: -500, by: 'cash' });
		const reopened = await takenIn(db);
		await change(reopened, { verb: 'close', outcome: 'not-fixed', faults: [], paidMinor: 900 });
		await figures(db);
		await change(reopened, { verb: 'reopen' });
		const kept = await figures(db);
		expect(kept.latest.find((line) => line.number === reopened)).toBeUndefined();
		expect(kept.latest.find((line) => line.number === number)).toMatchObject({ bears: 1, paidMinor: 1000 });
		expect(kept.latest.find((line) => line.number === back)).toMatchObject({ borne: true, profitMinor: 0 });
		// another pool knows nothing yet
		const { url } = await elsewhere();
		expect(await figures(url)).toEqual(kept);
		await url.destroy();
	});
	/** The same shop behind a pool of its own. */
	async function elsewhere() {
		const { default: knex } = await import('knex');
		return { url: knex(db.client.config as object) as Database };
	}
	it('profit is the record’s own, ticket by ticket: nothing is lost between them', async () => {
		const { all } = await figures(db);
		const rows = (await db('tickets')
			.whereNotNull('closed_at')
			.select('paid_minor', 'tax_minor', 'parts_minor', 'labour_minor')) as Record<
			string,
			number | string | null
		>[];
		const of = (name: string) => rows.reduce((sum, row) => sum + Number(row[name] ?? 0), 0);
		expect(all.tickets).toBe(rows.length);
		expect(all.profitMinor).toBe(of('paid_minor') - of('tax_minor') - of('parts_minor') - of('labour_minor'));
	});
});

describe('uses in memory', () => {
	const listed = (uses: ReadonlyMap<string, readonly { key: string }[]>) =>
		[...uses]
			.filter(([, of]) => of.length > 0)
			.map(([sku, of]) => [sku, [...of].sort((a, b) => (a.key < b.key ? -1 : 1))] as const)
			.sort(([a], [b]) => (a < b ? -1 : 1));
	it('follow what is used, struck out, put back, imported, and the moment of a closing', async () => {
		await usesNow(db);
		const number = await takenIn(db);
		await change(number, { verb: 'use-part', sku: 'port-smd', quantity: 2 });
		await change(number, { verb: 'use-part', sku: 'fuse-smd', quantity: 1 });
		await usesNow(db);
		await change(number, { verb: 'withdraw', list: 'parts', index: 0 });
		await usesNow(db);
		await change(number, { verb: 'put-back', index: 0 });
		const { ticket } = (await findTicket(db, number)) as { ticket: Ticket };
		const loose = { ...ticket, parts: ticket.parts.map(({ at: _, ...part }) => part) };
		await importLines(db, 'test', NOW, JSON.stringify(ticketToRecord(loose)));
		await usesNow(db);
		await change(number, { verb: 'close', outcome: 'not-fixed', faults: [], paidMinor: 0 }, NOW + DAY_MS);
		const kept = await usesNow(db);
		const all = await usesOf(db, [...kept.keys()]);
		expect(listed(kept)).toEqual(listed(all));
		expect(kept.get('fuse-smd')?.some(({ at }) => at === NOW + DAY_MS)).toBe(true);
	});
	it('the shelf of this hour is the shelf, before and after something was used', async () => {
		const same = async () => {
			const hour = Math.ceil(NOW / 3_600_000) * 3_600_000;
			expect((await shelfThisHour(db, NOW)).parts).toEqual(await shelfNow(db, hour));
		};
		await same();
		const number = await takenIn(db);
		await change(number, { verb: 'quote', priceMinor: 5000, operations: ['replace-port'] });
		await change(number, { verb: 'answer', accepted: true });
		await same();
		await change(number, { verb: 'use-part', sku: 'port-smd', quantity: 1 });
		await same();
	});
});

describe('closing a month', () => {
	const rows = async () => monthsOf(await booksNow(db, ZONE), await catalogNow(db));
	it('keeps its figures and how the shop stood at its end, once; later corrections fall into the next', async () => {
		const paidIn = async (month: string) =>
			latestLines(await booksNow(db, ZONE), { month, model: '' }, 99).find(
				({ paidMinor }) => paidMinor > 100
			);
		let due = closable(await rows(), NOW, ZONE);
		for (; due && !(await paidIn(due.month)); due = closable(await rows(), NOW, ZONE)) {
			await closeMonth(db, 'Odile', NOW, { month: due.month, seen: due.profitMinor });
		}
		if (!due) throw new Error('nothing to close');
		const later = due.month.replace(/\d\d$/, '12');
		expect(
			await closeMonth(db, 'Odile', NOW, { month: later === due.month ? '2031-01' : later, seen: 0 })
		).toMatchObject({
			ok: false,
			field: 'month'
		});
		const wrong = await closeMonth(db, 'Odile', NOW, { month: due.month, seen: due.profitMinor + 1 });
		expect(wrong).toMatchObject({
			ok: false,
			message: expect.stringContaining('has changed since you looked')
		});
		const both = await Promise.all(
			[due, due].map(({ month, profitMinor }) => closeMonth(db, 'Odile', NOW, { month, seen: profitMinor }))
		);
		expect(both.filter(({ ok }) => ok)).toHaveLength(1);
		expect(both.find(({ ok }) => !ok)).toMatchObject({
			field: 'month',
			message: expect.any(String) as string
		});
		const closed = (await catalogNow(db)).records.month.get(due.month);
		expect(closed).toMatchObject({ profit: due.profitMinor / 100, tickets: due.tickets, by: 'Odile' });
		expect(Number(closed?.stock) * 100).toBeCloseTo(await stockValue(db, Date.parse(monthEnd(due.month))), 0);
		// a ticket of that month is paid back
		const line = await paidIn(due.month);
		const before = await rows();
		await change(line?.number ?? '', { verb: 'pay', amountMinor: -100, by: 'cash' });
		const after = await rows();
		const of = (all: typeof after, month: string) => all.find((row) => row.month === month)?.profitMinor;
		expect(of(after, due.month)).toBe(due.profitMinor);
		const next = after.find((row) => !row.closed);
		expect(next?.corrected?.profitMinor).toBe(-100);
		expect(next?.profitMinor).toBe((of(before, next?.month ?? '') ?? 0) - 100);
		const sum = after.reduce((total, row) => total + row.profitMinor, 0);
		expect(sum).toBe(sumOfAll(await booksNow(db, ZONE), ALL).profitMinor);
	});
	/** Lisbon is an hour ahead of UTC from spring to autumn. */
	const monthEnd = (month: string) => {
		const start = new Date(`${month}-01T00:00:00Z`);
		const end = Date.UTC(start.getUTCFullYear(), start.getUTCMonth() + 1, 1);
		const summer = monthKeys(ZONE)(end - 1) !== monthKeys('UTC')(end - 1);
		return new Date(end - (summer ? 3_600_000 : 0)).toISOString();
	};
	it('goes out and comes in with everything else', async () => {
		let text = '';
		for await (const lines of exportLines(db)) text += lines;
		const months = text.split('\n').filter((each) => each.startsWith('{"record":"month"'));
		expect(months.length).toBeGreaterThan(0);
		const signed = (await findTicket(db, 'K-00001'))?.ticket as Ticket;
		const { db: other } = await freshDatabaseUrl();
		await migrate(other);
		expect((await importLines(other, 'test', NOW, text)).rejected).toEqual([]);
		expect((await catalogNow(other)).records.month.size).toBe(months.length);
		expect(ticketToRecord((await findTicket(other, 'K-00001'))?.ticket as Ticket)).toEqual(
			ticketToRecord(signed)
		);
		await other.destroy();
	});
});
