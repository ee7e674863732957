import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { exportLines } from '$lib/server/exchange/export';
import { importLines } from '$lib/server/exchange/import';
import { demoLines } from '$lib/server/opening/demo';
import type { Database } from '$lib/server/database/connection';
import { freshDatabase } from './fresh-database';

const NOW = Date.UTC(2026, 10, 24, 12);

async function exported(db: Database): Promise<string> {
	let text = '';
	for await (const lines of exportLines(db)) text += lines;
	return text;
}

describe('exchange with a real database', () => {
	let first: Database;
	let second: Database;
	beforeAll(async () => {
		[first, second] = await Promise.all([freshDatabase(), freshDatabase()]);
	});
	afterAll(async () => {
		await Promise.all([first.destroy(), second.destroy()]);
	});

	it('exports the demo shop, and an empty shop that imports it exports the same bytes', async () => {
		const done = await importLines(first, 'test', NOW, demoLines(NOW));
		expect(done.rejected).toEqual([]);
		expect(done.accepted.ticket).toBe(1400);
		const bytes = await exported(first);
		expect(bytes.split('\n').length).toBeGreaterThan(1400);
		await importLines(second, 'test', NOW, bytes);
		expect((await exported(second)) === bytes).toBe(true);
	});

	it('imports a file twice and changes nothing', async () => {
		const bytes = await exported(second);
		await importLines(second, 'test', NOW, bytes);
		expect((await exported(second)) === bytes).toBe(true);
	});

	it('goes on counting tickets after the highest number that came in', async () => {
		const row = await second('counters').where({ name: 'ticket' }).first('value');
		expect(row?.value).toBe(1400);
	});
});

describe('refusals', () => {
	let db: Database;
	beforeAll(async () => {
		db = await freshDatabase();
	});
	afterAll(() => db.destroy());
	const lines = (...records: unknown[]) => records.map((record) => JSON.stringify(record)).join('\r\n');
	const fault = { record: 'fault', code: 'a', label: 'A' };
	const model = { record: 'model', code: 'm', label: 'M' };
	const ticket = { record: 'ticket', number: 'K-1', opened_at: '2026-01-01T10:00:00+01:00', model: 'm' };

	it('keeps nothing of an input with one bad line, and names line, field and way out', async () => {
		const { accepted, rejected } = await importLines(
			db,
			'test',
			NOW,
			lines(fault, { ...ticket, model: 'x' })
		);
		expect(accepted).toEqual({});
		expect(rejected).toEqual([
			{
				line: 2,
				path: 'model',
				message: 'names the model "x", which neither the shop nor this input defines'
			}
		]);
		expect(await exported(db)).toBe('');
	});

	it.each([
		['not json', /is not JSON/],
		[JSON.stringify({ record: 'planet' }), /unknown kind; known are shop, fault/],
		[JSON.stringify({ ...fault, colour: 'red' }), /unknown field "colour"/],
		[JSON.stringify({ ...fault, code: 'Bad Code' }), /"Bad Code"; a code is/],
		[JSON.stringify({ ...ticket, opened_at: 'yesterday' }), /"yesterday"; write a time/],
		[JSON.stringify({ ...ticket, paid: 1.005 }), /1.005; money has at most two decimals/],
		[JSON.stringify({ ...ticket, closed_at: '2026-01-02T00:00:00Z', outcome: 'fixed' }), /faults|confirmed/],
		[JSON.stringify({ record: 'expectation', given: 'a', test: 't', outcomes: { x: 0.5 } }), /sums to 0.5/]
	])('refuses %s', async (line, message) => {
		const { rejected } = await importLines(db, 'test', NOW, line);
		expect(rejected.map((error) => `${error.path} ${error.message}`).join('\n')).toMatch(message);
	});

	it('lenient mode keeps every good line, and drops what leaned on a bad one', async () => {
		const bad = { ...model, code: 'n', connector: 'nowhere' };
		const input = lines(fault, model, bad, ticket, { ...ticket, number: 'K-2', model: 'n' });
		const { accepted, rejected } = await importLines(db, 'test', NOW, input, 'lenient');
		expect(accepted).toEqual({ fault: 1, model: 1, ticket: 1 });
		expect(rejected.map(({ line }) => line)).toEqual([3, 5]);
	});

	it('accepts a byte-order mark, any order of lines, and writes times in UTC', async () => {
		const later = { ...ticket, number: 'K-3', comeback_of: 'K-4' };
		const input = `\ufeff${lines(later, { ...ticket, number: 'K-4' })}\n\n`;
		expect((await importLines(db, 'test', NOW, input)).rejected).toEqual([]);
		expect(await exported(db)).toContain('"number":"K-3","opened_at":"2026-01-01T09:00:00Z"');
	});
});
