import { engineOf } from '$lib/core/diagnosis/engine';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { buildCatalog } from '$lib/core/catalog/catalog';
import { fit } from '$lib/core/diagnosis/learn/fit';
import { inferOdds } from '$lib/core/diagnosis/infer/odds';
import { readFeatures } from '$lib/core/diagnosis/learn/evidence';
import { usualMarkup } from '$lib/core/quoting/past';
import { simulateShop } from '$lib/core/simulation/demo-shop';
import { ticketChangeSchema, type TicketChangeInput } from '$lib/core/tickets/ticket-change';
import { openedTicket } from '$lib/core/tickets/ticket-record';
import { seededRandom } from '$lib/core/units/random';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import {
	allReferences,
	knownGoodShelf,
	restoreReference,
	withdrawReference
} from '$lib/server/catalog/known-good';
import { catalogRecordsOf } from '$lib/server/catalog/queries';
import type { CatalogKind, CatalogRecord } from '$lib/core/catalog/kinds';
import type { Database } from '$lib/server/database/connection';
import { fittedMemory, shopMemory, type ShopMemory } from '$lib/server/memory/shop-memory';
import { importLines } from '$lib/server/exchange/import';
import { changeTicket } from '$lib/server/tickets/change-ticket';
import { findTicket } from '$lib/server/tickets/queries';
import knex from 'knex';
import { freshDatabase } from './fresh-database';

/**
 * A metamorphic test: whatever was edited, closed, reopened, imported or changed in the catalog, and in which order, what
 * the running process knows is what a process that reads everything anew knows, to the last digit.
 */
const NOW = Date.UTC(2026, 10, 24, 10);
const odile = { by: 'odile', name: 'Odile', role: 'manager' as const };
let db: Database;
/** two of the models name no charge: what their repaired devices draw is learnt */
const records = (
	simulateShop({ seed: 32, endsAt: NOW, count: 160 }).records as { record: string; number?: string }[]
).map((record, i, all) => {
	const nth = all.slice(0, i).filter((before) => before.record === 'model').length;
	return record.record === 'model' && nth < 2 ? { ...record, charge: undefined, charges: undefined } : record;
});
const tickets = records.filter(({ record }) => record === 'ticket');

beforeAll(async () => {
	db = await freshDatabase();
	const { rejected } = await importLines(
		db,
		'test',
		NOW,
		records.map((record) => JSON.stringify(record)).join('\n')
	);
	expect(rejected).toEqual([]);
});
afterAll(() => db.destroy());

const dump = (value: unknown): unknown =>
	value instanceof Map
		? [...value].map(([key, item]) => [key, dump(item)])
		: Array.isArray(value)
			? value.map(dump)
			: value !== null && typeof value === 'object'
				? Object.fromEntries(Object.entries(value).map(([key, item]) => [key, dump(item)]))
				: value;

it('the shop has what the following is about: learnt charges, and comebacks with another fault', async () => {
	const { catalog, engine } = await shopMemory(db);
	expect([...catalog.models.values()].filter(({ chargesFrom }) => chargesFrom).length).toBe(2);
	expect(engine.learned.doubted.size).toBeGreaterThan(2);
});

/** All that is worked out of the memory and could show a last digit. */
function knownBy(memory: ShopMemory): unknown {
	const { catalog, engine, past } = memory;
	const { learned } = engine;
	const { changes: _, ...counts } = learned;
	const odds = [...catalog.models.keys()].slice(0, 6).map((model) => {
		const features = readFeatures({ ...openedTicket('x', 0, model), signs: { 'no-charge': true } }, catalog);
		return inferOdds(engineOf(catalog, learned), model, features).odds;
	});
	const durations = Object.values(past.durations).flatMap((sums) => [...sums].sort());
	return dump({
		counts,
		charges: [...catalog.models.values()].map(({ charge, charges, chargesFrom }) => [
			charge,
			charges,
			chargesFrom
		]),
		odds,
		markup: usualMarkup(past),
		durations,
		fixed: [...past.fixed].sort(),
		comebacks: [...past.comebacks].sort(),
		answers: past.answers,
		walks: past.walks,
		byOperation: [[...past.fixedBy].sort(), [...past.backAfter].sort()],
		shares: fit(catalog, learned).shares.lifts
	});
}

async function knownAnew(): Promise<unknown> {
	const fresh = knex(db.client.config as object);
	try {
		return knownBy(await shopMemory(fresh));
	} finally {
		await fresh.destroy();
	}
}

it('what is known good of a model that was read with any meter changes when what sets the meters apart does', () => {
	const read = (id: number, model: string, pin: string, value: number, meter?: string) => ({
		id,
		reference: {
			record: 'reference',
			model,
			pin,
			mode: 'diode',
			value,
			grade: 'verified',
			...(meter ? { meter } : {})
		} as const
	});
	const both = (times: number) =>
		['1', '2', '3', '4', '5'].flatMap((pin, i) => [
			read(10 + i, 'a', pin, 0.4, 'one'),
			read(20 + i, 'a', pin, Math.round(400 * times) / 1000, 'two')
		]);
	const marks = (times: number) =>
		knownGoodShelf([...both(times), read(1, 'b', '1', 0.5, 'one'), read(2, 'c', '1', 0.5)], buildCatalog([]))
			.marks;
	const [first, again, other] = [marks(1.1), marks(1.1), marks(1.3)];
	expect(again).toEqual(first);
	expect(other.get('b')).not.toBe(first.get('b'));
	expect(other.get('c')).toBe(first.get('c'));
});

const pick = <Item>(random: () => number, items: readonly Item[]): Item =>
	items[Math.floor(random() * items.length)] as Item;

async function change(number: string, input: TicketChangeInput) {
	const version = (await findTicket(db, number))?.version ?? 0;
	const once = crypto.randomUUID();
	return changeTicket(db, odile, NOW, number, { version, once, change: ticketChangeSchema.parse(input) });
}

async function edit(
	kind: CatalogKind,
	random: () => number,
	edited: (record: CatalogRecord) => CatalogRecord
) {
	const { record, version } = pick(random, await catalogRecordsOf(db, kind));
	expect(await saveCatalogRecord(db, 'odile', NOW, edited(record), version)).toMatchObject({ ok: true });
}

const numbers = tickets.map(({ number }) => number as string);
const faults = ['input-fuse', 'battery-worn', 'port-contacts'];
const STEPS: Record<string, (random: () => number) => Promise<unknown>> = {
	close: (random) =>
		change(pick(random, numbers), {
			verb: 'close',
			outcome: 'not-fixed',
			faults: [pick(random, faults), 'torn-pads'],
			ownFaults: random() < 0.5 ? ['torn-pads'] : [],
			paidMinor: Math.floor(random() * 9000)
		}),
	'comes back': (random) =>
		change(pick(random, numbers), {
			verb: 'comeback',
			of: random() < 0.8 ? pick(random, numbers) : null
		}),
	reopen: (random) => change(pick(random, numbers), { verb: 'reopen' }),
	'close again': (random) => change(pick(random, numbers), { verb: 'close-again' }),
	attempt: (random) =>
		change(pick(random, numbers), {
			verb: 'attempt',
			operation: 'replace-port',
			technician: 'ines',
			minutes: Math.round(random() * 900) / 10,
			resolved: random() < 0.5
		}),
	answer: (random) => change(pick(random, numbers), { verb: 'answer', accepted: random() < 0.7 }),
	wage: (random) =>
		edit(
			'technician',
			random,
			(record) => ({ ...record, hourly_cost: Math.floor(20 + random() * 60) }) as CatalogRecord
		),
	cost: (random) =>
		edit(
			'part',
			random,
			(record) => ({ ...record, unit_cost: Math.floor(1 + random() * 30) }) as CatalogRecord
		),
	value: (random) =>
		edit(
			'model',
			random,
			(record) => ({ ...record, value: Math.floor(50 + random() * 300) }) as CatalogRecord
		),
	operation: (random) =>
		edit('operation', random, (record) => ({ ...record, fixes: [pick(random, faults)] }) as CatalogRecord),
	'import again': (random) => importLines(db, 'test', NOW, JSON.stringify(pick(random, tickets))),
	'a board read with both meters': (random) => {
		const read = (meter: string, times: number) =>
			['A4', 'A5', 'A6', 'A7', 'B5', 'B6'].map((pin) =>
				JSON.stringify({
					record: 'reference',
					model: 'pelagic-40',
					pin,
					mode: 'diode',
					value: Math.round(1000 * times * (0.45 + 0.2 * random())) / 1000,
					grade: 'verified',
					meter
				})
			);
		const lines = [...read('bench meter', 1), ...read('handheld', 0.6 + 0.8 * random())];
		return importLines(db, 'test', NOW, lines.join('\n'));
	},
	'withdraw a reading': async (random) => {
		const { id } = pick(random, await allReferences(db));
		return withdrawReference(db, 'odile', NOW, { id, because: 'slipped' });
	},
	'put a reading back': async (random) => {
		const withdrawn = (await allReferences(db)).filter(({ reference }) => reference.withdrawn);
		return withdrawn.length > 0 && restoreReference(db, 'odile', NOW, pick(random, withdrawn).id);
	}
};

it('what a comeback shows to be broken follows the work of the ticket before, whatever is added to that later', async () => {
	const [first, back] = numbers as [string, string];
	const work = { verb: 'attempt', technician: 'ines', minutes: 5, resolved: false } as const;
	const close = (ownFaults: string[]) => ({
		verb: 'close' as const,
		outcome: 'not-fixed' as const,
		faults: ['input-fuse', 'torn-pads'],
		ownFaults,
		paidMinor: 0
	});
	for (const number of [first, back]) await change(number, { verb: 'reopen' });
	await change(first, { ...work, operation: 'clean-port' });
	await change(first, close([]));
	await change(back, { verb: 'comeback', of: first });
	await change(back, close(['torn-pads']));
	const harmed = async (operation: string) =>
		(await shopMemory(db)).engine.learned.harm.get(operation)?.[0] ?? 0;
	const [cleaned, reflowed] = [await harmed('clean-port'), await harmed('reflow-port')];
	await change(first, { verb: 'reopen' });
	await change(first, { ...work, operation: 'reflow-port' });
	expect(await harmed('clean-port')).toBe(cleaned);
	expect(await harmed('reflow-port')).toBe(reflowed + 1);
	expect(knownBy(await shopMemory(db))).toEqual(await knownAnew());
	await change(back, { verb: 'reopen' });
	await change(back, { verb: 'comeback', of: null });
	await change(back, close(['torn-pads']));
	expect(await harmed('reflow-port')).toBeLessThan(reflowed + 1);
	expect(knownBy(await shopMemory(db))).toEqual(await knownAnew());
});

it('beliefs are worked out once for all who ask, and anew where a ticket closes meanwhile', async () => {
	const close = (number: string) =>
		change(number, {
			verb: 'close',
			outcome: 'not-fixed',
			faults: ['input-fuse'],
			ownFaults: [],
			paidMinor: 0
		});
	const [first, second] = numbers.slice(-2) as [string, string];
	for (const number of [first, second]) await change(number, { verb: 'reopen' });
	expect((await close(first)).ok).toBe(true);
	const [one, other] = await Promise.all([fittedMemory(db), fittedMemory(db)]);
	const { fitted } = one.engine;
	expect(other.engine.fitted).toBe(fitted);
	expect((await fittedMemory(db)).engine.fitted).toBe(fitted);
	// others are heard while it goes on: this one is closed between two of its slices
	const before = fittedMemory(db);
	const closed = await close(second);
	expect(closed.ok).toBe(true);
	const asked = fittedMemory(db);
	await change(second, { verb: 'reopen' });
	await close(second);
	await Promise.all([before, asked]);
	const after = await fittedMemory(db);
	expect(after.engine.fitted).not.toBe(fitted);
	expect(knownBy(after)).toEqual(await knownAnew());
});

/** Steps that never make the memory read everything anew: what they add and take back has to come out exactly. */
const STEP_BY_STEP = Object.keys(STEPS).filter(
	(name) => !['wage', 'cost', 'value', 'operation'].includes(name)
);

it.each([1, 2, 3])(
	'what is known after any changes is what is known on reading anew, run %d',
	async (seed) => {
		const random = seededRandom(seed);
		await shopMemory(db);
		for (let round = 0; round < 6; round++) {
			const done: string[] = [];
			for (let i = 0; i < 6; i++) {
				const name = pick(random, round % 2 === 0 ? STEP_BY_STEP : Object.keys(STEPS));
				done.push(name);
				await STEPS[name]?.(random);
				if (round % 2 === 0 || random() < 0.5) await shopMemory(db);
			}
			expect(knownBy(await shopMemory(db)), done.join(', ')).toEqual(await knownAnew());
		}
	}
);
