import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { compareBody, oddsBody, quoteBody } from '$lib/core/exchange/api-schemas';
import { readLines } from '$lib/core/exchange/read-lines';
import { RECORD_NAMES, recordKind } from '$lib/core/exchange/record-kinds';
import { STARTER_CATALOG } from '$lib/core/catalog/starter-catalog';
import { simulateShop } from '$lib/core/simulation/demo-shop';
import { ticketChangeSchema } from '$lib/core/tickets/ticket-change';
import { unsoundIn } from '$lib/core/units/sound-value';
import type { Database } from '$lib/server/database/connection';
import { importLines } from '$lib/server/exchange/import';
import { changeTicket } from '$lib/server/tickets/change-ticket';
import { takeIn, takeInBody } from '$lib/server/tickets/take-in';
import { findTicket, matchCustomers, resolveNumber, searchTickets } from '$lib/server/tickets/queries';
import { freshDatabase } from './fresh-database';

/** Values that have broken something somewhere: each in every field. */
const ODD: unknown[] = [
	null,
	true,
	-1,
	0,
	1e308,
	-1e308,
	2 ** 53 + 2,
	0.1 + 0.2,
	'',
	' ',
	'constructor',
	'__proto__',
	'Müller',
	'東京',
	'😀',
	'\ud800',
	'a\u0000b',
	"'; DROP TABLE tickets; --",
	'%_\\',
	'x'.repeat(5000),
	'9999-12-31T23:59:59Z',
	'0000-01-01T00:00:00Z',
	[],
	{},
	[[]],
	{ length: 1 }
];
const NOW = Date.UTC(2026, 10, 24, 10);
const odile = { by: 'odile', name: 'Odile', role: 'manager' as const };
let db: Database;
let number = '';
beforeAll(async () => {
	db = await freshDatabase();
	const model = { record: 'model', code: 'tern-6', label: 'Tern 6', connector: 'micro-b', value: 120 };
	const ines = { record: 'technician', code: 'ines', name: 'Ines', hourly_cost: 31 };
	const lines = [...STARTER_CATALOG, model, ines].map((record) => JSON.stringify(record)).join('\n');
	expect((await importLines(db, 'test', NOW, lines)).rejected).toEqual([]);
	const taken = await takeIn(db, odile, NOW, takeInBody.parse(device({})));
	if (taken.ok) number = taken.number;
});
afterAll(() => db.destroy());

const device = (more: object) => ({
	once: crypto.randomUUID(),
	customer: { name: 'Vida Oakum', kind: 'private' },
	model: { code: 'tern-6' },
	matters: 'device',
	promisedAt: null,
	signs: {},
	comebackOf: null,
	...more
});

/** A valid value with one of its places, at any depth, filled with something odd. */
function* spoilt(value: unknown): Generator<unknown> {
	if (value === null || typeof value !== 'object') return;
	for (const key of Object.keys(value)) {
		const item = (value as Record<string, unknown>)[key];
		const put = (odd: unknown) =>
			Array.isArray(value) ? value.map((v, i) => (String(i) === key ? odd : v)) : { ...value, [key]: odd };
		for (const odd of ODD) yield put(odd);
		for (const below of spoilt(item)) yield put(below);
	}
}

describe('schemas', () => {
	const schemas = {
		...Object.fromEntries(RECORD_NAMES.map((kind) => [kind, recordKind(kind).schema])),
		change: ticketChangeSchema,
		oddsBody,
		quoteBody,
		compareBody,
		takeInBody
	};
	it.each(Object.keys(schemas) as (keyof typeof schemas)[])(
		'%s answers to anything, and never throws',
		(name) => {
			fc.assert(
				fc.property(
					fc.oneof(
						fc.anything(),
						fc.json().map((text): unknown => JSON.parse(text))
					),
					(value) => {
						const { success, error } = schemas[name].safeParse(value);
						if (!success) expect(error.issues[0]?.message.length).toBeLessThan(2000);
					}
				),
				{ numRuns: 300 }
			);
		}
	);
	it('lines of anything are records or errors that name them', () =>
		fc.assert(
			fc.property(fc.array(fc.oneof(fc.string(), fc.json()), { maxLength: 8 }), (texts) => {
				const lines = texts.map((text) => text.replaceAll('\n', ' '));
				const { records, errors } = readLines(lines.join('\n'));
				const told = new Set([...records, ...errors].map(({ line }) => line));
				lines.forEach((text, i) => {
					if (text.replace(/^\ufeff/, '').trim() !== '') expect(told.has(i + 1)).toBe(true);
				});
			})
		));
});

describe('what is odd in any field of a record', () => {
	it('is taken or refused by its field, never half', async () => {
		const { records } = simulateShop({ seed: 9, endsAt: NOW, count: 40 });
		const tickets = (records as { record: string; readings?: unknown[]; attempts?: unknown[] }[]).filter(
			({ record, attempts }) => record === 'ticket' && attempts
		);
		const richest = tickets.sort((a, b) => JSON.stringify(b).length - JSON.stringify(a).length)[0]!;
		const slim = Object.fromEntries(
			Object.entries(richest).map(([key, value]) => [key, Array.isArray(value) ? value.slice(0, 1) : value])
		);
		const lines = [...spoilt({ ...slim, model: 'tern-6', number: 'F-1' })].map((record) =>
			JSON.stringify(record)
		);
		expect(lines.length).toBeGreaterThan(1000);
		for (let start = 0; start < lines.length; start += 400) {
			const answer = await importLines(
				db,
				'test',
				NOW,
				lines.slice(start, start + 400).join('\n'),
				'lenient'
			);
			for (const { line, message } of answer.rejected) expect(line > 0 && message.length < 2500).toBe(true);
		}
	});
	it('of a change is made or refused with a field, and the ticket stays readable', async () => {
		const valid = [
			{
				verb: 'correct',
				customer: { name: 'A', kind: 'trade' },
				serial: 'x',
				promisedAt: NOW,
				reported: 'r'
			},
			{ verb: 'read-pins', stage: 'diagnosis', mode: 'diode', readings: [{ pin: '1', value: 0.4 }] },
			{ verb: 'plug-in', orientation: 'a', volts: 5, amps: 1, seconds: 3, contract: 9, meter: 'm' },
			{
				verb: 'attempt',
				operation: 'replace-port',
				technician: 'ines',
				minutes: 4,
				resolved: false,
				parts: [{ sku: 'port-smd', quantity: 1 }]
			},
			{ verb: 'continuity', misses: [['1', '2']], probes: 3 },
			{ verb: 'look', places: ['tongue'], state: 'bent' },
			{ verb: 'withdraw', list: 'readings', index: 0 },
			{ verb: 'quote', priceMinor: 100 },
			{ verb: 'note', text: 'n' }
		];
		for (const change of valid.flatMap((item) => [...spoilt(item)])) {
			if (unsoundIn(change)) continue; // refused before any schema
			const parsed = ticketChangeSchema.safeParse(change);
			if (!parsed.success) continue;
			const version = (await findTicket(db, number))?.version ?? 0;
			const answer = await changeTicket(db, odile, NOW, number, {
				version,
				once: crypto.randomUUID(),
				change: parsed.data
			});
			if (!answer.ok) expect(answer.code).toBe('refused');
		}
		expect(await findTicket(db, number)).not.toBeNull();
	});
	it('of what is searched finds or does not, with any letter', async () => {
		for (const odd of ODD.filter((value) => typeof value === 'string')) {
			await searchTickets(db, { text: odd.slice(0, 100), model: odd.slice(0, 64) });
			await matchCustomers(db, odd.slice(0, 100));
			expect(await resolveNumber(db, odd)).toBeNull();
			expect(await findTicket(db, odd)).toBeNull();
		}
	});
	it('of a list that is full is refused by its name', async () => {
		const many = {
			verb: 'look' as const,
			places: Array.from({ length: 200 }, () => 'tongue'),
			state: 'bent' as const
		};
		const answers = [];
		for (let i = 0; i < 7; i++) {
			const version = (await findTicket(db, number))?.version ?? 0;
			answers.push(
				await changeTicket(db, odile, NOW, number, { version, once: crypto.randomUUID(), change: many })
			);
		}
		expect(answers.at(-1)).toMatchObject({
			ok: false,
			refusal: { field: 'inspection', message: expect.stringMatching(/full|too large/) }
		});
	});
});
