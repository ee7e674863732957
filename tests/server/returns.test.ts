import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DAY_MS } from '$lib/core/units/instant';
import { ticketFromRecord, type Ticket } from '$lib/core/tickets/ticket-record';
import { clopperPearsonInterval } from '$lib/core/statistics/rate-interval';
import { catalogNow } from '$lib/server/catalog/queries';
import type { Database } from '$lib/server/database/connection';
import { asJson } from '$lib/server/database/json';
import { comebacksBy, type ComebacksBy } from '$lib/server/returns/comebacks';
import { shelfStore } from '$lib/server/stock/queries';
import { changed, NOW, smallShop, takenIn } from './small-shop';

let db: Database;
let tickets: Ticket[];
beforeAll(async () => {
	db = await smallShop();
	const causes = { 'another-fault': 0.3, 'same-again': 0.4 };
	let n = 0;
	for (const number of (await db('tickets').whereNotNull('comeback_of').pluck('number')) as string[]) {
		const cause = Object.keys(causes)[n++ % 2] as string;
		await changed(db, number, { verb: 'cause', cause });
	}
	const rows = (await db('tickets').select('record')) as { record: unknown }[];
	tickets = rows.map(({ record }) => ticketFromRecord(asJson(record)));
});
afterAll(() => db.destroy());

/** The contract's words once more, plainly: for each job of a row until when it was followed, then the product limit by hand. */
async function byHand(by: ComebacksBy, days: number, asOf: number) {
	const catalog = await catalogNow(db);
	const { lots } = await shelfStore(db);
	const counts = (cause: string | undefined) =>
		cause === undefined || (catalog.records.cause.get(cause)?.counts ?? true);
	const atRisk = tickets.filter(
		({ outcome, closedAt }) => outcome === 'fixed' && (closedAt ?? Infinity) < asOf
	);
	const rows = new Map<string, { time: number; event: boolean }[]>();
	for (const ticket of atRisk) {
		const closed = ticket.closedAt as number;
		const backs = tickets
			.filter(
				(other) => other.comebackOf === ticket.number && other.openedAt < asOf && other.openedAt >= closed
			)
			.filter(({ cause }) => counts(cause))
			.map(({ openedAt }) => openedAt);
		const event = backs.length > 0;
		const time = ((event ? Math.min(...backs) : asOf) - closed) / DAY_MS;
		const source = ({ sku, lot }: Ticket['parts'][number]) =>
			lots.find(({ code }) => code === lot)?.source ?? catalog.parts.get(sku)?.source;
		const keys: Record<ComebacksBy, (string | undefined)[]> = {
			shop: ['shop'],
			operation: ticket.attempts.map(({ operation }) => operation),
			technician: ticket.attempts.map(({ technician }) => technician),
			part: ticket.parts.map(({ sku }) => sku),
			lot: ticket.parts.map(({ lot }) => lot),
			source: ticket.parts.map(source),
			model: [ticket.model]
		};
		for (const key of new Set(keys[by])) if (key) rows.set(key, [...(rows.get(key) ?? []), { time, event }]);
	}
	return new Map([...rows].map(([key, jobs]) => [key, rateByHand(jobs, days)]));
}

function rateByHand(jobs: { time: number; event: boolean }[], days: number) {
	const times = [
		...new Set(jobs.filter(({ event, time }) => event && time <= days).map(({ time }) => time))
	].sort((a, b) => a - b);
	let [survival, sum] = [1, 0];
	for (const time of times) {
		const n = jobs.filter((job) => job.time >= time).length;
		const d = jobs.filter((job) => job.event && job.time === time).length;
		survival *= (n - d) / n;
		sum += d / (n * (n - d));
	}
	const comebacks = jobs.filter(({ event, time }) => event && time <= days).length;
	const base = { jobs: jobs.length, comebacks, rate: 1 - survival };
	if (comebacks === 0) {
		const long = jobs.filter(({ time }) => time >= days).length;
		return { ...base, low: 0, high: long === 0 ? null : clopperPearsonInterval(0, long).high };
	}
	if (survival === 0) return { ...base, low: null, high: null };
	const half = (1.959963984540054 * Math.sqrt(sum)) / Math.log(survival);
	const ends = [half, -half].map((h) => 1 - survival ** Math.exp(h)).sort((a, b) => a - b);
	return { ...base, low: ends[0], high: ends[1] };
}

describe('comebacks', () => {
	const kinds: ComebacksBy[] = ['shop', 'operation', 'part', 'lot', 'source', 'technician', 'model'];
	it.each(kinds)('by %s: every row, for any days and moment, is what the words say', async (by) => {
		for (const [days, back] of [
			[90, 0],
			[14, 0],
			[0.5, 40],
			[400, 200]
		] as const) {
			const asOf = NOW - back * DAY_MS;
			const { rows, jobs } = await comebacksBy(db, { by, days, asOf });
			const expected = await byHand(by, days, asOf);
			expect(new Set(rows.map(({ key }) => key))).toEqual(new Set(expected.keys()));
			if (by === 'shop') expect(jobs).toBe(expected.get('shop')?.jobs);
			for (const row of rows) {
				const own = expected.get(row.key);
				expect([row.jobs, row.comebacks], row.key).toEqual([own?.jobs, own?.comebacks]);
				for (const field of ['rate', 'low', 'high'] as const) {
					if (own?.[field] == null) expect(row[field], `${row.key} ${field}`).toBeNull();
					else expect(row[field], `${row.key} ${field}`).toBeCloseTo(own[field] as number, 9);
				}
				expect(row.fair?.ratio).toBeGreaterThan(0);
			}
		}
	});
	it('a comeback that is linked while its ticket is open counts at once; a cause that does not speak against the work takes it back', async () => {
		const [first] = tickets.filter(
			({ outcome, number }) => outcome === 'fixed' && !tickets.some(({ comebackOf }) => comebackOf === number)
		);
		const before = await comebacksBy(db, { by: 'shop', days: 10_000, asOf: NOW + DAY_MS });
		const number = await takenIn(db, first?.model);
		await changed(db, number, { verb: 'comeback', of: first?.number ?? '' });
		const after = await comebacksBy(db, { by: 'shop', days: 10_000, asOf: NOW + DAY_MS });
		expect(after.comebacks).toBe(before.comebacks + 1);
		await changed(db, number, { verb: 'cause', cause: 'misuse' });
		expect((await comebacksBy(db, { by: 'shop', days: 10_000, asOf: NOW + DAY_MS })).comebacks).toBe(
			before.comebacks
		);
		await expect(changed(db, number, { verb: 'cause', cause: 'gone' })).rejects.toThrow(/names the cause/);
		await changed(db, number, { verb: 'comeback', of: null });
		expect((await db('tickets').where({ number }).first('cause')).cause).toBeNull();
		await expect(changed(db, number, { verb: 'cause', cause: 'misuse' })).rejects.toThrow(/link it first/);
	});
});
