import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { CatalogRecord } from '$lib/core/catalog/kinds';
import { STARTER_CATALOG } from '$lib/core/catalog/starter-catalog';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { allReferences, restoreReference, withdrawReference } from '$lib/server/catalog/known-good';
import { catalogRecordsOf } from '$lib/server/catalog/queries';
import type { Database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { exportLines } from '$lib/server/exchange/export';
import { importLines, ImportStopped } from '$lib/server/exchange/import';
import { takeIn, takeInBody } from '$lib/server/tickets/take-in';
import { matchCustomers } from '$lib/server/tickets/queries';
import { freshDatabase } from './fresh-database';

const NOW = Date.UTC(2026, 10, 24, 10);
const odile = { by: 'odile', name: 'Odile', role: 'manager' as const };
let db: Database;
beforeAll(async () => {
	db = await freshDatabase();
	const model = { record: 'model', code: 'tern-6', label: 'Tern 6', connector: 'micro-b', value: 120 };
	const lines = [...STARTER_CATALOG, model].map((record) => JSON.stringify(record)).join('\n');
	expect((await importLines(db, 'test', NOW, lines)).rejected).toEqual([]);
});
afterAll(() => db.destroy());

describe('a catalog record saved by several at once', () => {
	const part = (label: string): CatalogRecord => ({ record: 'part', sku: 'lid-clip', label, unit_cost: 1 });
	const save = (label: string, version: number | null) =>
		saveCatalogRecord(db, 'x', NOW, part(label), version);
	const stored = async () =>
		(await catalogRecordsOf(db, 'part')).find(({ record }) => 'sku' in record && record.sku === 'lid-clip');
	it('a new code: one of eight is told that it is saved, and that is the one that stands', async () => {
		const labels = Array.from({ length: 8 }, (_, i) => `clip ${i}`);
		const answers = await Promise.all(labels.map((label) => save(label, null)));
		const saved = labels.filter((_, i) => answers[i]?.ok);
		expect(saved).toHaveLength(1);
		expect((await stored())?.record).toMatchObject({ label: saved[0] });
		for (const answer of answers) if (!answer.ok) expect(answer.field).toBe('code');
	});
	it('a known one: one of eight that saw the same version', async () => {
		const version = (await stored())?.version ?? 0;
		const labels = Array.from({ length: 8 }, (_, i) => `lid ${i}`);
		const answers = await Promise.all(labels.map((label) => save(label, version)));
		expect(answers.filter(({ ok }) => ok)).toHaveLength(1);
		expect((await stored())?.version).toBe(version + 1);
		expect((await stored())?.record).toMatchObject({ label: labels.find((_, i) => answers[i]?.ok) });
	});
});

describe('a catalog that is full', () => {
	it('takes its eightieth fault and not one more, by hand or by import; known ones can still be changed', async () => {
		const fault = (i: number) => ({ record: 'fault' as const, code: `more-${i}`, label: `More ${i}` });
		const there = (await catalogRecordsOf(db, 'fault')).length;
		const lines = (from: number, to: number) =>
			Array.from({ length: to - from }, (_, i) => JSON.stringify(fault(from + i))).join('\n');
		expect((await importLines(db, 'test', NOW, lines(there, 79))).rejected).toEqual([]);
		const two = await importLines(db, 'test', NOW, lines(79, 81));
		expect(two.rejected).toEqual([{ line: 2, path: 'code', message: expect.stringContaining('80 records') }]);
		expect(await saveCatalogRecord(db, 'x', NOW, fault(79), null)).toEqual({ ok: true });
		expect(await saveCatalogRecord(db, 'x', NOW, fault(80), null)).toMatchObject({
			ok: false,
			field: 'code'
		});
		expect((await importLines(db, 'test', NOW, lines(78, 80))).accepted).toEqual({ fault: 2 });
	});
});

describe('a withdrawn known-good reading', () => {
	const reading = {
		record: 'reference',
		model: 'tern-6',
		pin: '1',
		mode: 'diode',
		value: 0.47,
		grade: 'verified'
	};
	const file = [reading, reading, { ...reading, pin: '2' }]
		.map((record) => JSON.stringify(record))
		.join('\n');
	const known = async () => (await allReferences(db)).map(({ reference }) => Boolean(reference.withdrawn));
	it('stays withdrawn when its file comes in again, and can be put back', async () => {
		await importLines(db, 'test', NOW, file);
		const [first] = await allReferences(db);
		const id = first?.id ?? 0;
		expect(await withdrawReference(db, 'x', NOW, { id, because: 'slipped' })).toEqual({ ok: true });
		await importLines(db, 'test', NOW, file);
		expect(await known()).toEqual([true, false, false]);
		expect((await shopMemory(db)).shelf.book('tern-6').expected('1', 'diode', {})?.from).toBe(1);
		expect(await restoreReference(db, 'x', NOW, id)).toEqual({ ok: true });
		expect(await restoreReference(db, 'x', NOW, id)).toMatchObject({ ok: false });
		expect((await shopMemory(db)).shelf.book('tern-6').expected('1', 'diode', {})?.from).toBe(2);
		const trail = await db('audit').where({ subject: 'reference' }).orderBy('id').pluck('verb');
		expect(trail).toEqual(['withdraw', 'put-back']);
	});
	it('that comes in withdrawn is withdrawn here too, and the export is the same bytes elsewhere', async () => {
		const withdrawn = { at: '2026-01-01T00:00:00Z', because: 'slipped' };
		await importLines(db, 'test', NOW, JSON.stringify({ ...reading, withdrawn }));
		expect(await known()).toEqual([true, false, false]);
		const whole = async (from: Database) => {
			let text = '';
			for await (const lines of exportLines(from)) text += lines;
			return text;
		};
		const other = await freshDatabase();
		await importLines(other, 'test', NOW, await whole(db));
		expect(await whole(other)).toBe(await whole(db));
		await other.destroy();
	});
});

describe('a long chain of comebacks', () => {
	it('falls with its first ticket, link by link, in one look', async () => {
		const n = 4000;
		const link = (i: number) =>
			JSON.stringify({
				record: 'ticket',
				number: `C-${i}`,
				opened_at: '2026-01-01T00:00:00Z',
				model: i === 0 ? 'no-such-model' : 'tern-6',
				...(i === 0 ? {} : { comeback_of: `C-${i - 1}` })
			});
		const lines = Array.from({ length: n }, (_, i) => link(i)).reverse();
		const answer = await importLines(db, 'test', NOW, lines.join('\n'), 'lenient');
		expect(answer.accepted).toEqual({});
		expect(answer.rejected).toHaveLength(n);
		expect(answer.rejected.at(-1)).toMatchObject({ line: n, path: 'model' });
	});
});

describe('an import under way', () => {
	const line = (i: number) =>
		JSON.stringify({
			record: 'ticket',
			number: `K-${String(i).padStart(5, '0')}`,
			opened_at: '2026-01-01T00:00:00Z',
			model: 'tern-6',
			customer: { name: `Only here ${i}` }
		});
	const file = Array.from({ length: 1200 }, (_, i) => line(9000 + i)).join('\n');
	const device = takeInBody.parse({
		once: crypto.randomUUID(),
		customer: { name: 'Vida Oakum', kind: 'private' },
		model: { code: 'tern-6' },
		matters: 'device',
		promisedAt: null,
		signs: {},
		comebackOf: null
	});
	it('lets others take in, behind its numbers, and stopped it leaves nothing of itself', async () => {
		let taken: ReturnType<typeof takeIn> | null = null;
		const stopped = importLines(db, 'test', NOW, file, 'strict', ({ part, rows }) => {
			if (part !== 'writing' || rows < 500) return;
			taken ??= takeIn(db, odile, NOW, device);
			if (rows >= 1000) throw new ImportStopped('enough');
		});
		await expect(stopped).rejects.toBeInstanceOf(ImportStopped);
		const answer = await (taken as ReturnType<typeof takeIn> | null);
		expect(answer).toEqual({ ok: true, number: 'K-10200' });
		expect(await db('tickets').where('number', 'like', 'K-09%').first('id')).toBeUndefined();
		expect(await matchCustomers(db, 'Only here')).toEqual([]);
	});
	it('takes turns with another one: both come in, one after the other', async () => {
		const both = await Promise.all([
			importLines(db, 'a', NOW, line(20_001)),
			importLines(db, 'b', NOW, line(20_002))
		]);
		expect(both.map(({ accepted }) => accepted)).toEqual([{ ticket: 1 }, { ticket: 1 }]);
	});
});
