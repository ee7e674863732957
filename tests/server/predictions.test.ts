import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Prediction } from '$lib/core/diagnosis/record/foretell';
import { simulateShop } from '$lib/core/simulation/demo-shop';
import { ticketChangeSchema, type TicketChangeInput } from '$lib/core/tickets/ticket-change';
import type { Database } from '$lib/server/database/connection';
import { keepPredictions, predictionProgress, storedPredictions } from '$lib/server/diagnosis/predictions';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { importLines } from '$lib/server/exchange/import';
import { answerQuestion } from '$lib/server/worker/questions';
import { changeTicket } from '$lib/server/tickets/change-ticket';
import { findTicket } from '$lib/server/tickets/queries';
import { ticketView } from '$lib/server/tickets/view';
import { freshDatabase } from './fresh-database';

const NOW = Date.UTC(2026, 10, 24, 12);
const shop = simulateShop({ seed: 3, endsAt: NOW, count: 90 });
const ines = { by: 'ines', name: 'Ines', role: 'manager' as const };
let db: Database;
/** predictions as they were before the change under test */
let before: Prediction[];

beforeAll(async () => {
	db = await freshDatabase();
	const lines = shop.records.map((record) => JSON.stringify(record)).join('\n');
	expect((await importLines(db, 'test', NOW, lines)).rejected).toEqual([]);
});
afterAll(() => db.destroy());

async function change(number: string, input: TicketChangeInput, now = NOW) {
	const version = (await findTicket(db, number))?.version ?? 0;
	const answer = await changeTicket(db, ines, now, number, {
		version,
		once: crypto.randomUUID(),
		change: ticketChangeSchema.parse(input)
	});
	expect(answer).toMatchObject({ ok: true });
}

describe('predictions of closed tickets', () => {
	it('are made once for each that teaches something, in order of closing', async () => {
		const seen: number[] = [];
		await keepPredictions(db, ({ done }) => seen.push(done));
		before = await storedPredictions(db);
		const cases = (await shopMemory(db)).cases();
		expect(before.map(({ number }) => number)).toEqual(cases.map(({ number }) => number));
		expect(before.length).toBeGreaterThan(50);
		expect(seen.at(-1)).toBe(before.length);
		expect(before[0]).toMatchObject({ from: 0 });
		expect(await predictionProgress(db, await shopMemory(db))).toEqual({
			done: before.length,
			total: before.length
		});
	});
	it('are not made again while nothing has changed', async () => {
		const seen: number[] = [];
		await keepPredictions(db, ({ done }) => seen.push(done));
		expect(seen).toEqual([]);
	});
	it('stopped in between, they go on from there to the same end', async () => {
		await db('predictions').delete();
		await keepPredictions(
			db,
			() => undefined,
			() => Promise.resolve(false)
		);
		const part = await storedPredictions(db);
		expect(part.length).toBeGreaterThan(0);
		expect(part.length).toBeLessThan(before.length);
		await keepPredictions(db);
		const whole = await storedPredictions(db);
		expect(whole.map(({ number }) => number)).toEqual(before.map(({ number }) => number));
		expect(whole.slice(0, part.length)).toEqual(before.slice(0, part.length));
	});
	it('a ticket that closes is added; those before it stay as they were foretold', async () => {
		const stood = await storedPredictions(db);
		const open = shop.tickets.find(({ closedAt, attempts }) => closedAt === null && attempts.length === 0);
		const { number } = open as (typeof shop.tickets)[number];
		await change(number, { verb: 'close', outcome: 'no-fault-found', faults: [], paidMinor: 0 });
		await keepPredictions(db);
		const now = await storedPredictions(db);
		expect(now).toHaveLength(stood.length + 1);
		expect(now.slice(0, -1)).toEqual(stood);
		expect(now.at(-1)).toMatchObject({ number, faults: [], from: stood.length, bench: { place: null } });
	});
	it('a ticket that is reopened takes back what was foretold after it, and only that', async () => {
		const stood = await storedPredictions(db);
		const at = stood.length - 6;
		await change(stood[at]?.number as string, { verb: 'reopen' });
		await keepPredictions(db);
		const now = await storedPredictions(db);
		expect(now.slice(0, at)).toEqual(stood.slice(0, at));
		expect(now.map(({ number }) => number)).toEqual(
			stood.filter((_, i) => i !== at).map(({ number }) => number)
		);
		expect(now.at(-1)?.from).toBeLessThan(stood.at(-1)?.from as number);
	});
	it('a note on a closed ticket changes nothing', async () => {
		const number = (await storedPredictions(db))[3]?.number as string;
		await change(number, { verb: 'note', text: 'called back, all well' });
		const seen: number[] = [];
		await keepPredictions(db, ({ done }) => seen.push(done));
		expect(seen).toEqual([]);
	});
	it('a ticket whose confirmed faults are corrected at the same moment of closing is foretold anew', async () => {
		const stood = await storedPredictions(db);
		const at = stood.length - 3;
		const { number } = stood[at] as Prediction;
		const row = (await db('tickets').where({ number }).first('record')) as { record: unknown };
		const record = (typeof row.record === 'string' ? JSON.parse(row.record) : row.record) as {
			faults: string[];
		};
		const other = record.faults[0] === 'coil-open' ? 'input-fuse' : 'coil-open';
		const line = { ...record, customer: undefined, faults: [other] };
		expect((await importLines(db, 'test', NOW, JSON.stringify(line))).rejected).toEqual([]);
		await keepPredictions(db);
		const now = await storedPredictions(db);
		expect(now.slice(0, at)).toEqual(stood.slice(0, at));
		expect(now[at]?.faults).toEqual([other]);
		expect(now).toHaveLength(stood.length);
	});
	it('two at once do not meet: one works, the other goes away', async () => {
		await db('predictions').delete();
		const ran = [0, 0];
		await Promise.all(ran.map((_, i) => keepPredictions(db, () => (ran[i] = 1))));
		expect(ran[0]! + ran[1]!).toBe(1);
	});
});

describe('thinking further', () => {
	it('a plan from the thread is of the ticket’s version and never dearer than the quick one', async () => {
		const open = shop.tickets.find(({ closedAt }) => closedAt === null)?.number as string;
		const further = await answerQuestion(db, { kind: 'plan', number: open });
		const view = await ticketView(db, open, 'manager', NOW);
		expect(further?.version).toBe(view?.version);
		// the screen shows whole minor units, and rounding keeps the order
		expect(Math.round(further?.plan.next[0]?.expectedCostMinor as number)).toBeLessThanOrEqual(
			view?.plan.steps[0]?.costMinor as number
		);
	});
	it('of a ticket that is not there is nothing', async () => {
		expect(await answerQuestion(db, { kind: 'plan', number: 'K-99999' })).toBeNull();
	});
});
