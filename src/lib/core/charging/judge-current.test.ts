import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import type { CatalogRecord } from '../catalog/kinds';
import { batteryOfLook } from './battery-of-look';
import { batteryFinding, judgeCurrent } from './judge-current';
import { contractLevel, healthyDraw, type ChargeProfile } from './healthy-draw';
import { judgeLooks, type PlugLook } from './judge-looks';
import { amperes, judgePlugIn, plugContext, type PlugContext } from './judge-plug-in';
import { CELL_LIMITS } from './cell-limits';
import { prechargeWait } from './charge-time';
import { soakDrain } from './soak';

const pins = (two: boolean) => [
	{ pin: 'A4', net: 'vbus', side: 'a' },
	{ pin: 'B4', net: 'vbus', ...(two ? { side: 'b' } : {}) }
];
const records: CatalogRecord[] = [
	{ record: 'connector', code: 'two', label: 'Two rows', pins: pins(true) },
	{ record: 'connector', code: 'one', label: 'One row', pins: pins(false) },
	{
		record: 'model',
		code: 'slate',
		label: 'Slate notebook',
		connector: 'two',
		charge: { volts: 20, amps: 2.25 },
		battery: { chemistry: 'li-ion', cells: 4, capacity_mah: 5000 }
	},
	{
		record: 'model',
		code: 'heron',
		label: 'Heron handheld',
		connector: 'two',
		charge: { volts: 5, amps: 0.5 },
		battery: { chemistry: 'li-ion', cells: 1, capacity_mah: 1000 }
	},
	{
		record: 'model',
		code: 'heron-fast',
		label: 'Heron fast',
		connector: 'two',
		charge: { volts: 5, amps: 0.5 },
		charges: [
			{ volts: 15, amps: 1 },
			{ volts: 5, amps: 1.5 }
		]
	},
	{ record: 'model', code: 'dock', label: 'Dock', connector: 'one', charge: { volts: 19, amps: 2 } },
	{ record: 'model', code: 'said', label: 'Said', connector: 'one', supply: 'negotiated' },
	{ record: 'model', code: 'bare', label: 'Bare' }
];
const catalog = buildCatalog(records);
const context = (model: string, batteryVolts: number | null = null): PlugContext =>
	plugContext(catalog, model, batteryVolts);
const kind = (model: string, volts: number, amps: number, pack: number | null = null, contract?: number) =>
	judgePlugIn({ volts, amps, contract, seconds: 30 }, context(model, pack)).kind;

describe('what a healthy one takes', () => {
	it.each<[string, ChargeProfile['negotiated']]>([
		['slate', true],
		['dock', false],
		['said', true],
		['bare', false]
	])('%s negotiates: %s', (model, negotiated) => expect(context(model).negotiated).toBe(negotiated));
	it.each([
		// equal power would be 9 A at 5 V: a supply gives three
		['slate', 5, { low: 3, high: 3, named: false, supply: 3 }],
		['slate', 9, { low: 3, high: 3, named: false, supply: 3 }],
		['slate', 15, { low: 3, high: 3, named: false, supply: 3 }],
		['slate', 20, { low: 2.25, high: 2.25, named: true, supply: 5 }],
		['slate', 28, { low: 45 / 28, high: 5, named: false, supply: 5 }],
		['heron', 5, { low: 0.5, high: 0.5, named: true, supply: 3 }],
		['heron', 10, { low: 0.25, high: 3, named: false, supply: 3 }],
		['heron-fast', 5, { low: 0.5, high: 1.5, named: true, supply: 3 }],
		['heron-fast', 15, { low: 1, high: 1, named: true, supply: 3 }],
		['dock', 19, { low: 2, high: 2, named: true, supply: null }],
		['dock', 38, { low: 1, high: 1, named: false, supply: null }],
		['bare', 5, { low: 0.5, high: 0.5, named: false, supply: null }]
	])('%s at %d V', (model, level, draw) => expect(healthyDraw(level, context(model))).toEqual(draw));
	it.each([
		['slate', 4.2, undefined, 5],
		['slate', 5.3, undefined, 5],
		// vSafe5V ends at 5.5 V (USB Power Delivery)
		['slate', 5.5, undefined, 5],
		['slate', 5.51, undefined, 9],
		['bare', 5.5, undefined, 5],
		['slate', 8.5, 5, 5],
		['slate', 11.9, undefined, 12],
		['slate', 60, undefined, 60],
		// a barrel has its own voltage, not those of a bus
		['dock', 18.4, undefined, 19],
		['dock', 12, undefined, 19],
		['dock', 20.2, undefined, 20.2]
	])('%s: %d V, contract %s, is %d V', (model, volts, contract, level) =>
		expect(contractLevel({ volts, contract }, context(model))).toBe(level)
	);
	it.each([
		['slate', 5, 3, 'healthy'],
		['slate', 5, 1.8, 'healthy'],
		['slate', 5, 1.79, 'slow'],
		['slate', 5, 3.31, 'over'],
		['slate', 20, 2.2, 'healthy'],
		['heron', 15, 0.86, 'healthy'],
		['heron', 15, 3.31, 'over'],
		['heron', 5, 0.3, 'healthy'],
		['heron', 5, 0.29, 'slow'],
		['heron', 5, 0.8, 'healthy'],
		['heron', 5, 0.81, 'over'],
		['heron-fast', 5, 1.4, 'healthy'],
		['heron-fast', 15, 1.61, 'over'],
		['heron-fast', 15, 0.59, 'slow'],
		['dock', 19, 3.21, 'over'],
		['dock', 25, 2.44, 'over'],
		['dock', 25, 2.43, 'healthy']
	])('%s: %d V %d A is %s', (model, volts, amps, verdict) => expect(kind(model, volts, amps)).toBe(verdict));
	it('the reason says whether the model names this contract, and the supply’s end', () => {
		const reason = (model: string, volts: number, amps: number) =>
			judgePlugIn({ volts, amps }, context(model)).reason;
		expect(reason('heron-fast', 5, 1)).toBe('1.00 A of about 0.50 A to 1.50 A at 5 V.');
		expect(reason('slate', 5, 2.8)).toBe('2.80 A at 5 V: all that a supply gives there.');
		expect(reason('heron', 9, 1)).toContain('where no figure of this model is known; at least about 0.28 A');
		expect(reason('slate', 5, 1)).toContain('at least 3.00 A');
		expect(reason('heron', 5, 0.29)).toContain('about 0.50 A');
		expect(reason('heron', 9, 3.4)).toContain('more than a supply gives at 9 V');
	});
});

describe('small currents', () => {
	it.each([
		[0, '0.00 A'],
		[0.007, '7 mA'],
		[0.013, '13 mA'],
		[-0.05, '-50 mA'],
		[0.0994, '99 mA'],
		[0.0996, '0.10 A'],
		[1.234, '1.23 A']
	])('%d A is %s', (amps, words) => expect(amperes(amps)).toBe(words));
	it.each([
		[0.007, 2.9, 'precharge'],
		[0.006, 2.9, 'precharge'],
		[0.0059, 2.9, 'nothing'],
		[0.007, 1.8, 'precharge'],
		[0.007, 3.7, 'nothing'],
		[0.0099, null, 'nothing'],
		[0.01, null, 'trickle']
	])('%d A into %s V is %s', (amps, pack, verdict) => expect(kind('heron', 5.1, amps, pack)).toBe(verdict));
});

describe('looks under like conditions', () => {
	const minute = 60_000;
	const look = (orientation: 'a' | 'b', amps: number, more: Partial<PlugLook> = {}): PlugLook => ({
		orientation,
		volts: 5.1,
		amps,
		seconds: 20,
		stage: 'diagnosis',
		...more
	});
	const found = (looks: PlugLook[], pack: number | null = null) =>
		judgeLooks(looks, () => context('heron', pack)).map((verdict) => verdict.kind);
	it.each<[string, PlugLook[], string[]]>([
		['apart by half an hour', [look('a', 0.5, { at: 0 }), look('b', 0, { at: 30 * minute })], ['one-side']],
		['apart by more', [look('a', 0.5, { at: 0 }), look('b', 0, { at: 30 * minute + 1 })], []],
		['of two stages, unstamped', [look('a', 0.5), look('b', 0, { stage: 'intake' })], []],
		['one switched on', [look('a', 0.5, { on: true }), look('b', 0)], []],
		[
			'two contracts of equal power',
			[look('a', 1.8, { volts: 5 }), look('b', 0.2, { volts: 20, contract: 20 })],
			[]
		],
		['15 of 100 of the power', [look('a', 1), look('b', 0.15)], []],
		['less', [look('a', 1), look('b', 0.149)], ['one-side']],
		['a side that did carry meanwhile', [look('a', 0.5), look('b', 0), look('b', 0.5)], []],
		['a strong side of 50 mA says nothing', [look('a', 0.05), look('b', 0)], []],
		[
			'the stronger pair is of unlike conditions, another is not',
			[look('a', 0.9, { stage: 'intake' }), look('a', 0.5), look('b', 0)],
			['one-side']
		],
		[
			'three within ten minutes',
			[look('a', 0.02), look('a', 0.5, { seconds: 300 }), look('a', 0.03, { seconds: 620 })],
			['pulsing']
		],
		[
			'over a whole charge',
			[look('a', 0.07), look('a', 0.9, { seconds: 3600 }), look('a', 0.05, { seconds: 9000 })],
			[]
		],
		[
			'over a whole charge by the clock',
			[
				look('a', 0.07, { at: 0 }),
				look('a', 0.9, { at: 60 * minute }),
				look('a', 0.05, { at: 120 * minute })
			],
			[]
		],
		[
			'late in a log of looks',
			[
				look('a', 0.5),
				look('a', 0.5, { seconds: 1000 }),
				look('a', 0.02, { seconds: 1010 }),
				look('a', 0.5, { seconds: 1020 })
			],
			['pulsing']
		],
		['without a side', [look('a', 0.5), { volts: 5, amps: 0 }], []]
	])('%s', (_, looks, kinds) => expect(found(looks)).toEqual(kinds));
	it('a side whose little is explained by its battery is not dead', () => {
		const looks = [look('a', 0.5), look('b', 0.02)];
		expect(found(looks, 4.18)).toEqual([]);
		expect(found(looks, 2.8)).toEqual([]);
		expect(found(looks, 3.7)).toEqual(['one-side']);
	});
});

describe('the battery that a look belongs with', () => {
	const battery = [
		{ stage: 'intake', volts: 2.9, at: 1000 },
		{ stage: 'diagnosis', volts: 3.6, at: 9000 },
		{ stage: 'closing', volts: 4.1, at: 9500 },
		{ stage: 'diagnosis', volts: 3.8 }
	];
	it.each([
		[{ stage: 'diagnosis', at: 1500 }, 2.9],
		[{ stage: 'diagnosis', at: 5001 }, 3.6],
		[{ stage: 'diagnosis', at: 5000 }, 2.9],
		[{ stage: 'intake', at: 9400 }, 3.6],
		[{ stage: 'after-repair', at: 1000 }, 4.1],
		[{ stage: 'intake' }, 2.9],
		[{ stage: 'diagnosis' }, 3.8],
		[{ stage: 'after-repair' }, 4.1],
		[{}, 3.8]
	])('%j: %d V', (look, volts) => expect(batteryOfLook(battery, look)).toBe(volts));
	it('none on its side', () =>
		expect(batteryOfLook([{ stage: 'closing', volts: 4 }], { stage: 'intake' })).toBeNull());
});

describe('all of it', () => {
	const measured = (volts: number) => ({
		meter: [{ stage: 'diagnosis', volts: 5.1, amps: 0.06 }],
		battery: [{ stage: 'diagnosis', volts }]
	});
	it.each([
		[-0.1, 'reversed', ['do-not-charge']],
		[-0.099, 'cut-off', ['supervise']],
		[0, 'cut-off', ['supervise']],
		[0.1, 'discard', ['do-not-charge']],
		[1.49, 'discard', ['do-not-charge']],
		[1.5, 'watch', ['supervise']],
		[1.99, 'watch', ['supervise']],
		[2, 'precharge', []],
		[3.7, 'in-range', []],
		[4.25, 'full', []],
		[4.26, 'over', ['do-not-charge']]
	])('%d V is %s, %j, whatever is drawn', (volts, state, cautions) => {
		const found = judgeCurrent(context('heron'), measured(volts));
		expect(found.battery?.state).toBe(state);
		expect(found.cautions.map(({ code }) => code)).toEqual(cautions);
	});
	it.each([
		[-0.1, 3.7, ['do-not-charge']],
		[0, 3.7, []],
		[45, 3.7, []],
		[45.1, 3.7, ['do-not-charge']],
		[50, 1.8, ['do-not-charge', 'supervise']],
		[undefined, 3.7, []]
	])('cells at %s °C and %d V: %j', (celsius, volts, cautions) => {
		const found = judgeCurrent(context('heron'), {
			meter: [],
			battery: [{ stage: 'diagnosis', volts, ...(celsius === undefined ? {} : { celsius }) }]
		});
		expect(found.cautions.map(({ code }) => code)).toEqual(cautions);
		if (cautions.length > 0) expect(found.cautions[0]?.text).toContain(`${celsius} °C`);
	});
	it('judges each look with its own battery, and both sides of a repair apart', () => {
		const found = judgeCurrent(context('heron'), {
			meter: [
				{ stage: 'diagnosis', orientation: 'a', volts: 5.1, amps: 0.06 },
				{ stage: 'after-repair', orientation: 'a', volts: 5.1, amps: 0.5 },
				{ stage: 'after-repair', orientation: 'b', volts: 5.1, amps: 0 }
			],
			battery: [
				{ stage: 'diagnosis', volts: 2.8 },
				{ stage: 'after-repair', volts: 3.6 }
			]
		});
		expect(found.looks.map((look) => look.kind)).toEqual(['precharge', 'healthy', 'nothing']);
		expect(found.together.map((look) => look.kind)).toEqual(['one-side']);
		expect(found.battery?.cellVolts).toBe(3.6);
	});
	it('nothing measured, nothing said', () =>
		expect(judgeCurrent(context('bare'), { meter: [], battery: [] })).toEqual({
			looks: [],
			together: [],
			battery: null,
			cautions: []
		}));
	it('a pack by its cells; one cell of lithium where nothing is known', () => {
		expect(batteryFinding(11.7, { chemistry: 'li-ion', cells: 4, capacityMah: 1 }).state).toBe('precharge');
		expect(batteryFinding(3.6, null)).toMatchObject({ state: 'in-range', cellVolts: 3.6 });
	});
});

describe('how long precharge takes', () => {
	// common practice, no source: tens of minutes for a small cell, an hour or two for a notebook's pack
	it('a small cell, by hand', () => {
		// 0.9 · 5 V · 0.07 A / 3 V = 0.105 A at most, 0.07 A at least into the cell
		const wait = prechargeWait({ capacityMah: 1000, plugVolts: 5, plugAmps: 0.07, packVolts: 3 });
		expect(wait.low).toBeCloseTo((15 / 105) * 60, 9);
		expect(wait.usual).toBeCloseTo((35 / 87.5) * 60, 9);
		expect(wait.high).toBeCloseTo((70 / 70) * 60, 9);
	});
	it('a notebook’s pack', () => {
		const { usual, high } = prechargeWait({
			capacityMah: 5000,
			plugVolts: 20,
			plugAmps: 0.075,
			packVolts: 11.7
		});
		expect(usual).toBeGreaterThan(60);
		expect(usual).toBeLessThan(120);
		expect(high).toBeGreaterThan(240);
	});
	it('an empty cell is under its precharge limit', () => expect(CELL_LIMITS['li-ion']?.precharge).toBe(3));
});

describe('a soak', () => {
	const looks = (...percents: [number, number][]) =>
		percents.map(([minutes, percent]) => ({ minutes, percent }));
	it.each<[string, ReturnType<typeof looks>, string]>([
		['94 to 40 in an hour', looks([0, 94], [60, 40]), 'drains-fast'],
		['two looks, an hour apart', looks([0, 100], [60, 91]), 'as-it-should'],
		['one more between, a per cent off', looks([0, 100], [30, 95], [60, 91]), 'as-it-should'],
		['and off the other way', looks([0, 100], [30, 96], [60, 91]), 'as-it-should'],
		['it rises', looks([0, 80], [30, 84], [60, 88]), 'not-a-soak'],
		['it rises by one, which rounding may be', looks([0, 80], [15, 81]), 'not-a-soak'],
		['it stands still for an hour', looks([0, 80], [30, 80], [60, 80]), 'not-a-soak'],
		['it stands still for ten minutes: too little to say', looks([0, 80], [10, 80]), 'not-sure-yet'],
		['it loses little', looks([0, 80], [60, 79]), 'as-it-should'],
		['nine minutes', looks([0, 80], [9, 70]), 'too-early'],
		['ten minutes', looks([0, 80], [10, 60]), 'drains-fast']
	])('%s', (_, points, verdict) => expect(soakDrain(points, 9).verdict).toBe(verdict));
	it('the interval of two looks is what rounding allows: about one per cent over an hour', () => {
		// t of 8 degrees of freedom, 97.5 %: 2.306 (published tables); 2.306 · 0.3 · √2
		const { perHour } = soakDrain(looks([0, 100], [60, 91]), 9);
		expect(perHour?.value).toBeCloseTo(9, 9);
		expect((perHour?.high ?? 0) - 9).toBeCloseTo(0.978, 3);
		expect(9 - (perHour?.low ?? 0)).toBeCloseTo(0.978, 3);
	});
	it('scatter widens it: three looks by hand', () => {
		// residuals of 100, 94, 91 about 99.5 − 9 h: 1/2, −1, 1/2; (8 · 0.09 + 1.5) / 9 = 0.24667; t of 9: 2.262
		const { perHour } = soakDrain(looks([0, 100], [30, 94], [60, 91]), 9);
		expect((perHour?.high ?? 0) - (perHour?.value ?? 0)).toBeCloseTo(2.262 * Math.sqrt(0.24667 / 0.5), 2);
	});
	it('a model that loses hardly anything is not accused of standing still', () =>
		expect(soakDrain(looks([0, 80], [60, 80]), 0.5).verdict).toBe('not-sure-yet'));
});
