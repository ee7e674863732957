import { knownIn } from '../evidence/known-codes';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from './catalog';
import { formFromRecord, recordFromForm } from './form-fields';
import {
	CATALOG_KINDS,
	catalogKey,
	catalogKind,
	FORM_KINDS,
	fullOf,
	isCatalogKind,
	type CatalogKind,
	type CatalogRecord
} from './kinds';
import { needsOf, type Unmet } from './needs';
import { DEMO_CATALOG } from '../simulation/demo-catalog';

const full: CatalogRecord[] = [
	{
		record: 'model',
		code: 'm',
		label: 'M',
		family: 'f',
		connector: 'c',
		value: 120.5,
		battery: { chemistry: 'li-ion', cells: 2, capacity_mah: 2600 },
		charge: { volts: 9, amps: 1.5 },
		charges: [
			{ volts: 5, amps: 1 },
			{ volts: 9, amps: 2 }
		],
		supply: 'negotiated',
		drain: { percent_per_hour: 9.5 },
		notes: 'two screws\nare long',
		carries: ['microphone', 'game card'],
		screws: [
			{ place: 'top', label: 'Top, left', length_mm: 3.2, x: 10, y: 5 },
			{ place: 'plug', label: 'Plug', x: 50 },
			{ place: 'tray', label: 'Tray' }
		],
		points: [
			{
				code: 'c12',
				label: 'Capacitor, left end',
				chip: 'port chip',
				net: 'vbus',
				side: 'back',
				ground: 'one-side',
				with: 'tp',
				expect: { mode: 'diode', low: 0.4, high: 0.62 },
				faults: ['a', 'b'],
				when: 'port-off',
				minutes: 1.5,
				x: 12.5,
				y: 80
			},
			{ code: 'tp', label: 'Pad', ground: 'never' },
			{ code: 'g', label: 'Ground', ground: 'normal', side: 'front' }
		],
		pictures: { back: 'e'.repeat(64) },
		path: [
			{
				node: 'a',
				label: 'At the port',
				volts: { low: 4.7, high: 5.5 },
				through: 'fuse',
				faults: ['f1', 'f2'],
				minutes: 2
			},
			{ node: 'b', label: 'B', volts: { low: 0, high: 5 } }
		]
	},
	{ record: 'supplier', code: 's', label: 'S', lead_days: 4.5, order_cost: 7.5, minimum: 25 },
	{
		record: 'part',
		sku: 'p',
		label: 'P',
		unit_cost: 3.9,
		source: 'donor',
		supplier: 's',
		pack: 10,
		yields: [
			{ sku: 'q', quantity: 2, share: 0.4 },
			{ sku: 'r', quantity: 1 }
		]
	},
	{
		record: 'cause',
		code: 'c',
		label: 'C',
		counts: false,
		charged: true,
		wrong_fault: false,
		made: true,
		claimed: true
	},
	{
		record: 'template',
		code: 'ready-mail',
		about: 'ready',
		channel: 'mail',
		language: 'en',
		subject: 'Ready: {device}',
		text: 'Dear {name}, {number} is ready.'
	},
	{
		record: 'connector',
		code: 'c',
		label: 'C',
		pins: [
			{ pin: 'A1', net: 'gnd', side: 'a' },
			{ pin: 'A2', net: 'vbus' }
		],
		alike: [['d+', 'd-']]
	},
	{
		record: 'operation',
		code: 'o',
		label: 'O',
		minutes: 12.5,
		skill: 'boards',
		station: 'lens',
		fixes: ['f1', 'f2'],
		success: 0.9,
		parts: [{ sku: 'p', quantity: 0.5 }],
		caution: 'heat'
	},
	{
		record: 'test',
		code: 't',
		label: 'T',
		minutes: 3,
		cost: 0.5,
		outcomes: ['a', 'b'],
		risk: 0.01,
		caution: 'x'
	},
	{ record: 'fault', code: 'f1', label: 'F', group: 'g', prior: 0.2 },
	{ record: 'sign', code: 's', label: 'S', kind: 'visual' },
	{
		record: 'gate',
		code: 'g',
		label: 'G',
		when: 'before-sealing',
		operations: ['o'],
		models: ['m', 'n']
	},
	{ record: 'station', code: 'lens', label: 'Microscope', count: 2 },
	{
		record: 'technician',
		code: 'ada',
		name: 'Ada',
		skills: ['boards', 'open'],
		hourly_cost: 31.5,
		hours: [['09:00-12:30', '13:30-18:00'], [], [], ['08:00-24:00'], [], [], []]
	}
];
const fieldsOf = (kind: CatalogKind) => catalogKind(kind).form?.fields ?? [];

describe('forms', () => {
	it('every kind that people edit has a full record here', () =>
		expect([...new Set(full.map(({ record }) => record))].sort()).toEqual([...FORM_KINDS].sort()));
	it.each(full)('a full $record goes into its form and comes back the same', (record) => {
		const fields = fieldsOf(record.record);
		const typed = formFromRecord(fields, record as unknown as Record<string, unknown>);
		expect(
			catalogKind(record.record).schema.parse(recordFromForm(record.record, fields, typed, null))
		).toEqual(record);
	});
	it('so does every record of the demo shop that has a form', () => {
		for (const record of DEMO_CATALOG) {
			const fields = fieldsOf(record.record);
			if (fields.length === 0) continue;
			const typed = formFromRecord(fields, record as unknown as Record<string, unknown>);
			expect(recordFromForm(record.record, fields, typed, null)).toEqual(record);
		}
	});
	it.each(full)('a bare $record leaves out what is optional', (record) => {
		const fields = fieldsOf(record.record);
		const typed = formFromRecord(fields, record as unknown as Record<string, unknown>);
		const bare = Object.fromEntries(
			fields.map(({ name, optional }) => [name, optional ? '  ' : (typed[name] ?? '')])
		);
		const read = recordFromForm(record.record, fields, bare, null);
		expect(Object.keys(read).sort()).toEqual(
			['record', ...fields.filter(({ optional }) => !optional).map(({ name }) => name)].sort()
		);
		expect(catalogKind(record.record).schema.safeParse(read).success).toBe(true);
	});
	it('a comma is a decimal mark in figures; what is no number is named by its field', () => {
		const read = (typed: Record<string, string>) =>
			recordFromForm('part', fieldsOf('part'), { sku: 'p', label: 'P', ...typed }, 'de-DE');
		expect(read({ unit_cost: '3,90' })).toMatchObject({ unit_cost: 3.9 });
		expect(recordFromForm('model', fieldsOf('model'), { charge: '5,1 1,2' }, 'en-GB')).toMatchObject({
			charge: { volts: 5.1, amps: 1.2 }
		});
		const odd = CATALOG_KINDS.part.schema.safeParse(read({ unit_cost: 'three' }));
		expect(odd.error?.issues.map(({ path }) => path[0])).toEqual(['unit_cost']);
		const yes = recordFromForm('cause', fieldsOf('cause'), { code: 'c', label: 'C', counts: 'maybe' }, null);
		expect(CATALOG_KINDS.cause.schema.safeParse(yes).error?.issues[0]?.path).toEqual(['counts']);
	});
});

describe('the registry of kinds', () => {
	it('keys, orders and limits', () => {
		expect(full.map(catalogKey)).toEqual([
			...['m', 's', 'p', 'c', 'ready-mail', 'c', 'o', 't', 'f1', 's', 'g', 'lens', 'ada']
		]);
		expect(catalogKey({ record: 'expectation', given: 'f', sign: 's', chance: 0.5 })).toBe('f|sign|s');
		expect(catalogKey({ record: 'expectation', given: 'f', test: 't', outcomes: { a: 1 } })).toBe('f|test|t');
		const measured = { measured: 'meter:hold', outcomes: { steady: 1 } };
		expect(catalogKey({ record: 'expectation', given: 'f', ...measured })).toBe('f|measured|meter:hold');
		expect(catalogKey({ record: 'expectation', ...measured })).toBe('|measured|meter:hold');
		expect(catalogKey(DEMO_CATALOG[0] as CatalogRecord)).toBe('shop');
		const orders = Object.values(CATALOG_KINDS).map(({ order }) => order);
		expect(new Set(orders).size).toBe(orders.length);
		expect(isCatalogKind('supplier')).toBe(true);
		expect(isCatalogKind('toString')).toBe(false);
		expect(FORM_KINDS[0]).toBe('model');
	});
	it('words to customers fill in what the program knows, and nothing else', () => {
		const template = (text: string) =>
			CATALOG_KINDS.template.schema.safeParse({
				record: 'template',
				code: 't',
				about: 'ready',
				channel: 'text',
				text
			});
		expect(template('{name}: {number} is ready. {link}').success).toBe(true);
		expect(template('{naem}: it is ready').error?.issues[0]?.message).toContain('{naem}');
		expect(template('{}').success).toBe(false);
		expect(template('a brace { alone').success).toBe(true);
	});
	it.each<[CatalogKind, number]>([
		['fault', 80],
		['sign', 200],
		['test', 120],
		['operation', 120],
		['gate', 60],
		['cause', 60]
	])('a catalog holds %s %d times', (kind, most) => {
		expect(fullOf(kind, most - 1)).toBeNull();
		expect(fullOf(kind, most)).toContain(`${most} records of the kind ${kind}`);
		expect(fullOf('model', 1e6)).toBeNull();
	});
	it.each<[string, CatalogRecord, string[]]>([
		[
			'an operation',
			{
				record: 'operation',
				code: 'o',
				label: 'O',
				minutes: 1,
				fixes: ['f1', 'no'],
				parts: [
					{ sku: 'p', quantity: 1 },
					{ sku: 'no', quantity: 1 }
				]
			},
			['fixes.1', 'parts.1.sku']
		],
		['a model', { record: 'model', code: 'm2', label: 'M', connector: 'no' }, ['connector']],
		[
			'a part',
			{
				record: 'part',
				sku: 'x',
				label: 'X',
				unit_cost: 1,
				supplier: 'no',
				yields: [
					{ sku: 'p', quantity: 1 },
					{ sku: 'no', quantity: 1 },
					{ sku: 'x', quantity: 1 }
				]
			},
			['supplier', 'yields.1.sku']
		],
		[
			'an expectation',
			{ record: 'expectation', given: 'no', test: 't', outcomes: { a: 0.5, z: 0.5 } },
			['given', 'outcomes.z']
		],
		['one of a sign', { record: 'expectation', given: 'f1', sign: 'no', chance: 0.5 }, ['sign']]
	])('%s names what is not there', (_, record, paths) => {
		const unmet: Unmet[] = [];
		const known = knownIn(buildCatalog(full));
		catalogKind(record.record).refers?.(
			record,
			needsOf(known, 'nowhere', (one) => unmet.push(one))
		);
		expect(unmet.map(({ path }) => path)).toEqual(paths);
		expect(unmet.every(({ message }) => /nowhere|has the outcomes/.test(message))).toBe(true);
	});
	it.each<[string, object, string | null]>([
		['a sign', { sign: 's', chance: 0.5 }, null],
		['a test', { test: 't', outcomes: { a: 1 } }, null],
		['a measurement', { measured: 'meter:draw', outcomes: { nothing: 0.6, 'contract-nothing': 0.4 } }, null],
		['a net', { measured: 'pins:cc1', outcomes: { short: 1 } }, null],
		['a node', { measured: 'path:fuse-out', outcomes: { lost: 0.9, there: 0.1 } }, null],
		['a place of the port', { measured: 'look:tongue', outcomes: { burnt: 1 } }, null],
		['no such measurement', { measured: 'meter:colour', outcomes: { red: 1 } }, 'measured'],
		['a net without a name', { measured: 'pins:', outcomes: { short: 1 } }, 'measured'],
		['an answer of another question', { measured: 'meter:draw', outcomes: { lost: 1 } }, 'outcomes.lost'],
		['chances that do not sum to 1', { measured: 'meter:hold', outcomes: { steady: 0.5 } }, 'outcomes'],
		['a test and a measurement', { test: 't', measured: 'meter:hold', outcomes: { steady: 1 } }, ''],
		['a sign and a measurement', { sign: 's', chance: 1, measured: 'meter:hold', outcomes: {} }, ''],
		['a sign and outcomes', { sign: 's', chance: 1, outcomes: { a: 1 } }, ''],
		['a measurement without outcomes', { measured: 'meter:hold' }, ''],
		['nothing', {}, '']
	])('a belief about %s', (_, belief, path) => {
		const parsed = CATALOG_KINDS.expectation.schema.safeParse({
			record: 'expectation',
			given: 'f',
			...belief
		});
		const unmet: Unmet[] = [];
		// what fits the schema may still ask what no measurement answers
		if (parsed.success)
			CATALOG_KINDS.expectation.refers?.(
				parsed.data,
				needsOf(
					knownIn(buildCatalog([{ record: 'fault', code: 'f', label: 'F' }, ...full])),
					'nowhere',
					(one) => unmet.push(one)
				)
			);
		expect(parsed.error?.issues[0]?.path.join('.') ?? unmet[0]?.path ?? null).toBe(path);
	});
	it('shares of a donor are the whole at most', () => {
		const part = (...shares: number[]) =>
			CATALOG_KINDS.part.schema.safeParse({
				record: 'part',
				sku: 'p',
				label: 'P',
				unit_cost: 1,
				yields: shares.map((share, i) => ({ sku: `q${i}`, quantity: 1, share }))
			}).success;
		expect([part(0.5, 0.5), part(0.5, 0.51), part(1), part(1.1)]).toEqual([true, false, true, false]);
	});
	it('places and nodes are looked for where the model says them', () => {
		const unmet: string[] = [];
		const need = needsOf(knownIn(buildCatalog(full)), 'nowhere', ({ path }) => unmet.push(path));
		need.place('in port', 'm', 'A1');
		need.place('besides', 'm', 'tongue', ['tongue']);
		need.place('no contact', 'm', 'Z9', ['tongue']);
		need.place('model unknown', 'gone', 'Z9');
		need.node('in path', 'm', 'a');
		need.node('no node', 'm', 'z');
		need.node('model unknown', 'gone', 'z');
		need.code('left out', 'fault', undefined);
		need.code('null', 'fault', null);
		need.outcome('test unknown', 'gone', 'a');
		expect(unmet).toEqual(['no contact', 'no node']);
	});
});
