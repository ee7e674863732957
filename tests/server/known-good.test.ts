import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { DEMO_CATALOG } from '$lib/core/simulation/demo-catalog';
import { simulateShop } from '$lib/core/simulation/demo-shop';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import { ticketChangeSchema } from '$lib/core/tickets/ticket-change';
import { addReferences, withdrawReference } from '$lib/server/catalog/known-good';
import { signaturesOf } from '$lib/server/known-good/signatures';
import { verdictsThatLeanedOn } from '$lib/server/known-good/withdrawn';
import type { Database } from '$lib/server/database/connection';
import { adviseSteps } from '$lib/server/diagnosis/advice';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { exportLines } from '$lib/server/exchange/export';
import { importLines } from '$lib/server/exchange/import';
import { changeTicket } from '$lib/server/tickets/change-ticket';
import { takeIn, takeInBody } from '$lib/server/tickets/take-in';
import { findTicket } from '$lib/server/tickets/queries';
import { ticketView } from '$lib/server/tickets/view';
import { freshDatabase } from './fresh-database';

const NOW = Date.UTC(2026, 10, 24, 10);
const ines = { by: 'ines', name: 'Ines', role: 'manager' as const };
let db: Database;

const jsonLines = (records: readonly unknown[]) => records.map((record) => JSON.stringify(record)).join('\n');
const referencesOf = async (model: string) =>
	((await shopMemory(db)).shelf.byModel.get(model) ?? []).map(({ id, reference }) => ({ id, ...reference }));

async function taken(model: string): Promise<string> {
	const answer = await takeIn(
		db,
		ines,
		NOW,
		takeInBody.parse({
			once: crypto.randomUUID(),
			customer: { name: 'Vida Oakum', kind: 'private' },
			model: { code: model },
			matters: 'device',
			promisedAt: null,
			signs: {},
			comebackOf: null
		})
	);
	if (!answer.ok) throw new Error(answer.refusal.message);
	return answer.number;
}
async function change(number: string, input: TicketChangeInput, now = NOW) {
	const version = (await findTicket(db, number))?.version ?? 0;
	const answer = await changeTicket(db, ines, now, number, {
		version,
		once: crypto.randomUUID(),
		change: ticketChangeSchema.parse(input)
	});
	expect(answer).toMatchObject({ ok: true });
}
const read = (stage: 'diagnosis' | 'closing', values: Record<string, number>): TicketChangeInput => ({
	verb: 'read-pins',
	stage,
	mode: 'diode',
	meter: 'bench meter',
	board: 'r3',
	readings: Object.entries(values).map(([pin, value]) => ({ pin, value }))
});

beforeAll(async () => {
	db = await freshDatabase();
	expect((await importLines(db, 'test', NOW, jsonLines(DEMO_CATALOG))).rejected).toEqual([]);
});
afterAll(() => db.destroy());

describe('known good of a model', () => {
	it('the next contact is expected as the last one was read: on its board, not on the other', async () => {
		const sound = {
			model: 'murmur-case',
			mode: 'diode',
			grade: 'verified',
			meter: 'bench meter',
			taken_at: '2026-11-01T00:00:00Z'
		} as const;
		await addReferences(db, 'Odile', NOW, [
			{ ...sound, record: 'reference', pin: 'A4', value: 0.4, board: 'r3' },
			{ ...sound, record: 'reference', pin: 'A4', value: 0.6, board: 'r9' }
		]);
		const number = await taken('murmur-case');
		const expected = async () =>
			(await ticketView(db, number, 'technician', NOW))?.expected['A4 diode']?.centre ?? NaN;
		const readOn = (board: string) =>
			change(number, { ...read('diagnosis', { A5: 0.5 }), board } as TicketChangeInput);
		await readOn('r9');
		const asNine = await expected();
		await readOn('r3');
		const asThree = await expected();
		expect(Math.abs(asNine - 0.6)).toBeLessThan(Math.abs(asNine - 0.4));
		expect(Math.abs(asThree - 0.4)).toBeLessThan(Math.abs(asThree - 0.6));
	});
	it('a provisional reading stands in, is promoted by the repaired device, and refuted where it was wrong', async () => {
		const number = await taken('tern-6');
		await change(number, read('diagnosis', { '1': 0.47, '2': 0.3, '3': 0.001, '5': 0.001 }));
		await change(number, { verb: 'keep-provisional', mode: 'diode', pins: ['5', '3'] });
		// contact 3 reads ground: that is a short, whoever stands for it
		expect((await referencesOf('tern-6')).map(({ pin }) => pin)).toEqual(['5']);
		await change(number, { verb: 'keep-provisional', mode: 'diode' });
		await change(number, { verb: 'keep-provisional', mode: 'diode' });
		const kept = (await referencesOf('tern-6')).sort((a, b) => (a.pin < b.pin ? -1 : 1));
		// kept once, however often it is pressed
		expect(kept.map(({ pin, grade, ticket, meter, board }) => [pin, grade, ticket, meter, board])).toEqual(
			['1', '2', '5'].map((pin) => [pin, 'provisional', number, 'bench meter', 'r3'])
		);
		const view = await ticketView(db, await taken('tern-6'), 'technician', NOW);
		expect(view?.expected['1 diode']).toMatchObject({ grade: 'provisional', from: 1 });

		await change(number, read('closing', { '1': 0.472, '2': 0.61, '3': 0.612 }));
		for (const gate of (await shopMemory(db)).catalog.gates.keys())
			await change(number, { verb: 'gate', gate, passed: true });
		await change(number, { verb: 'close', outcome: 'fixed', faults: ['line-filter'], paidMinor: 100 });
		const after = await referencesOf('tern-6');
		const states = after.map(({ pin, value, grade, withdrawn }) => [
			pin,
			value,
			withdrawn ? 'withdrawn' : grade
		]);
		expect(states).toEqual(
			expect.arrayContaining([
				['1', 0.47, 'verified'],
				['2', 0.3, 'withdrawn'],
				['2', 0.61, 'verified'],
				['3', 0.612, 'verified'],
				['5', 0.001, 'provisional']
			])
		);
		// the promoted one is that board already: it counts once
		expect(states.filter(([pin]) => pin === '1')).toHaveLength(1);
	});

	it('a withdrawn reading is leaned on no more, once, with every verdict that it was behind', async () => {
		const good = { record: 'reference', model: 'quayline', mode: 'diode', grade: 'verified' } as const;
		await addReferences(db, 'Odile', NOW, [{ ...good, pin: '1', value: 0.2 }]);
		const number = await taken('quayline');
		await change(number, read('diagnosis', { '1': 0.47 }));
		const [wrong] = await referencesOf('quayline');
		expect((await ticketView(db, number, 'technician', NOW))?.expected['1 diode']?.centre).toBeCloseTo(
			0.2,
			6
		);
		const id = wrong?.id as number;
		expect(await withdrawReference(db, 'Odile', NOW, { id, because: 'read on another board' })).toEqual({
			ok: true
		});
		expect(await withdrawReference(db, 'Odile', NOW, { id, because: 'again' })).toMatchObject({
			ok: false,
			field: 'id'
		});
		expect(await withdrawReference(db, 'Odile', NOW, { id: 999_999, because: 'no such' })).toMatchObject({
			ok: false
		});
		expect((await ticketView(db, number, 'technician', NOW))?.expected['1 diode']).toBeUndefined();
		expect(await verdictsThatLeanedOn(db, await shopMemory(db), id)).toMatchObject({
			total: 1,
			verdicts: [{ number, before: 'high', after: 'no-reference', closed: false }]
		});
	});

	it('all of it travels: an export imported into an empty shop is the same bytes', async () => {
		const text = async (from: Database) => {
			let all = '';
			for await (const lines of exportLines(from)) all += lines;
			return all;
		};
		const bytes = await text(db);
		expect(bytes).toContain('"withdrawn"');
		const other = await freshDatabase();
		expect((await importLines(other, 'test', NOW, bytes)).rejected).toEqual([]);
		expect((await text(other)) === bytes).toBe(true);
		await other.destroy();
	});
});

describe('signatures', () => {
	let shop: Database;
	beforeAll(async () => {
		shop = await freshDatabase();
		const { records } = simulateShop({ seed: 4600, endsAt: NOW, count: 1400 });
		expect((await importLines(shop, 'test', NOW, jsonLines(records))).rejected).toEqual([]);
	});
	afterAll(() => shop.destroy());

	it('are the deviations that the simulated shop was given, and hardly any other', async () => {
		const { nets, allTickets } = await signaturesOf(shop, await shopMemory(shop), 'pelagic-40');
		expect(allTickets).toBeGreaterThan(80);
		const found = nets.map(({ place, verdict, fault }) => `${place} ${verdict} ${fault}`);
		expect(found).toEqual(
			expect.arrayContaining([
				'cc1 low port-controller',
				'vbus short shorted-capacitor',
				'cc1 open port-contacts'
			])
		);
		const true_ = new Set([
			'cc1 low port-controller',
			'vbus short shorted-capacitor',
			'cc1 open port-contacts',
			'd+ open port-contacts',
			'vbus open port-joints',
			'cc2 open torn-pads',
			'd- open torn-pads'
		]);
		expect(found.filter((signature) => !true_.has(signature)).length).toBeLessThanOrEqual(2);
	});

	it('move the odds: a low configuration line speaks for the port controller', async () => {
		const memory = await shopMemory(shop);
		const evidence = (value: number) => ({
			model: 'pelagic-40',
			signs: { 'no-charge': true },
			inspection: [],
			observations: [],
			meter: [],
			battery: [],
			readings: [{ stage: 'diagnosis', pin: 'A5', mode: 'diode' as const, value }],
			attempts: []
		});
		const chance = (value: number) =>
			adviseSteps(memory, evidence(value)).inference.odds.faults.find(
				({ code }) => code === 'port-controller'
			)?.probability ?? 0;
		expect(chance(0.44)).toBeGreaterThan(4 * chance(0.74));
	});

	it('a second process that learns anew, and one that was told bit by bit, say the same', async () => {
		const before = await shopMemory(shop);
		const references = (before.shelf.byModel.get('gannet-c') ?? [])
			.slice(0, 24)
			.map(({ reference }) => reference);
		await addReferences(
			shop,
			'Odile',
			NOW,
			references.map((reference) => ({ ...reference, taken_at: '2026-11-01T00:00:00Z' }))
		);
		const told = await shopMemory(shop);
		await shop('counters').where({ name: 'relearn' }).increment('value', 1);
		const anew = await shopMemory(shop);
		expect({ ...told.engine.learned, changes: 0 }).toEqual({ ...anew.engine.learned, changes: 0 });
	});
});
