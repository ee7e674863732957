import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Database } from '$lib/server/database/connection';
import { allReferences } from '$lib/server/catalog/known-good';
import { exportLines } from '$lib/server/exchange/export';
import { importLines } from '$lib/server/exchange/import';
import { findTicket } from '$lib/server/tickets/queries';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { freshDatabase } from './fresh-database';

const NOW = Date.UTC(2026, 10, 24, 12);
const points = [
	{ code: 'c12', label: 'Capacitor', chip: 'port-chip', net: 'vbus', side: 'front', ground: 'never' },
	{ code: 'l', label: 'Left end', ground: 'one-side', with: 'r', x: 20, y: 31.5 },
	{ code: 'r', label: 'Right end', ground: 'one-side', with: 'l' }
];
const model = { record: 'model', code: 'm', label: 'M', points };
const fault = { record: 'fault', code: 'a', label: 'A' };
const reference = {
	record: 'reference',
	model: 'm',
	point: 'c12',
	mode: 'diode',
	value: 0.42,
	grade: 'verified'
};
const reading = { stage: 'port-off', point: 'c12', mode: 'ohms', value: 2.5, note: '2.5 = this chip' };
const ticket = {
	record: 'ticket',
	number: 'K-1',
	opened_at: '2026-01-01T09:00:00Z',
	model: 'm',
	readings: [reading]
};
const lines = (...records: unknown[]) => records.map((record) => JSON.stringify(record)).join('\n');

describe('points of a board', () => {
	let db: Database;
	let second: Database;
	beforeAll(async () => {
		[db, second] = await Promise.all([freshDatabase(), freshDatabase()]);
	});
	afterAll(() => Promise.all([db.destroy(), second.destroy()]));
	const exported = async (from: Database) => {
		let text = '';
		for await (const some of exportLines(from)) text += some;
		return text;
	};

	it('come in and go out as they were written, with readings and known good', async () => {
		const { rejected } = await importLines(db, 'test', NOW, lines(fault, model, reference, ticket));
		expect(rejected).toEqual([]);
		const bytes = await exported(db);
		const records = bytes
			.trim()
			.split('\n')
			.map((line) => JSON.parse(line) as { record: string });
		expect(records.find(({ record }) => record === 'reference')).toEqual(reference);
		expect(records.find(({ record }) => record === 'ticket')).toMatchObject({ readings: [reading] });
		expect(records.find(({ record }) => record === 'model')).toEqual(model);
		await importLines(second, 'test', NOW, bytes);
		expect((await exported(second)) === bytes).toBe(true);
		// and in again where they are: nothing is counted twice
		await importLines(second, 'test', NOW, bytes);
		expect((await exported(second)) === bytes).toBe(true);
	});
	it('are one place each in the program: known good of a point is found as of a contact', async () => {
		expect((await allReferences(db)).map(({ reference: { pin } }) => pin)).toEqual(['point:c12']);
		const { shelf } = await shopMemory(db);
		expect(shelf.book('m').expected('point:c12', 'diode')?.centre).toBeCloseTo(0.42, 6);
		const stored = await findTicket(db, 'K-1');
		expect(stored?.ticket.readings).toMatchObject([{ pin: 'point:c12', value: 2.5 }]);
	});

	it.each([
		[
			'a point that the board has not',
			{ ...ticket, readings: [{ ...reading, point: 'c13' }] },
			/"c13"; the board of m has no such point/
		],
		[
			'a contact and a point at once',
			{ ...ticket, readings: [{ ...reading, pin: 'A4' }] },
			/either a pin or a point/
		],
		['neither', { ...ticket, readings: [{ ...reading, point: undefined }] }, /either a pin or a point/],
		[
			'known good of a point that is not there',
			{ ...reference, point: 'x' },
			/the board of m has no such point/
		],
		['a code twice', { ...model, points: [points[0], points[0]] }, /names the point c12 twice/],
		[
			'one end without the other',
			{ ...model, points: [points[1]] },
			/is r; name another point of this board/
		],
		[
			'an end that is its own other',
			{ ...model, points: [{ ...points[1], with: 'l' }] },
			/is l; name another point/
		],
		[
			'an other end where none can be',
			{ ...model, points: [{ ...points[0], with: 'l' }, points[1], points[2]] },
			/and of no other/
		],
		[
			'a fault that is not there',
			{ ...model, points: [{ ...points[0], faults: ['b'] }] },
			/names the fault "b"/
		],
		[
			'high below low',
			{ ...model, points: [{ ...points[0], expect: { mode: 'diode', low: 2, high: 1 } }] },
			/is below low/
		],
		[
			'too many',
			{ ...model, points: Array.from({ length: 121 }, (_, i) => ({ ...points[0], code: `p${i}` })) },
			/120/
		]
	])('refuses %s', async (_, record, message) => {
		const { rejected } = await importLines(db, 'test', NOW, lines(record));
		expect(rejected.map((error) => `${error.path} ${error.message}`).join('\n')).toMatch(message);
	});
});
