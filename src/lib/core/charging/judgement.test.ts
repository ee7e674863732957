import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { judgeLooks, type PlugLook } from './judge-looks';
import { judgePlugIn, type PlugContext, type PlugMoment } from './judge-plug-in';
import { breaksOf, judgeNode, walkPath, type PathNode } from './power-path';
import { soakDrain } from './soak';
import { wakePlan } from './flat-pack';

const phone: PlugContext = {
	healthy: { volts: 5, amps: 1 },
	battery: { chemistry: 'li-ion', cells: 1, capacityMah: 2500 },
	batteryVolts: 3.6
};
const phosphate = (batteryVolts: number): PlugContext => ({
	...phone,
	battery: { chemistry: 'lifepo4', cells: 1, capacityMah: 2500 },
	batteryVolts
});
const at = (batteryVolts: number | null) => ({ ...phone, batteryVolts });

describe('a plug-in reading, judged with what stands beside it', () => {
	it.each<[string, PlugMoment, PlugContext, string]>([
		['nothing', { volts: 5.1, amps: 0, seconds: 20 }, phone, 'nothing'],
		['too early', { volts: 5.1, amps: 0, seconds: 1 }, phone, 'too-early'],
		['nothing, no volts either', { volts: 0, amps: 0, seconds: 20 }, phone, 'nothing'],
		['nothing into a full battery', { volts: 5.1, amps: 0 }, at(4.19), 'full'],
		['voltage negotiated, no current', { volts: 9, amps: 0.002, seconds: 20 }, phone, 'contract-nothing'],
		['contract as the meter shows it', { volts: 8.8, amps: 0.002, contract: 9 }, phone, 'contract-nothing'],
		['a little into an empty battery', { volts: 5.1, amps: 0.06 }, at(2.7), 'precharge'],
		['a little into one that is not to be charged', { volts: 5.1, amps: 0.06 }, at(1.2), 'trickle'],
		['a little into a battery that is not', { volts: 5.1, amps: 0.06 }, at(3.8), 'trickle'],
		['a little, battery not measured', { volts: 5.1, amps: 0.06 }, at(null), 'trickle'],
		['a little into a full one', { volts: 5.1, amps: 0.06 }, at(4.18), 'full'],
		['slow', { volts: 5.05, amps: 0.45 }, phone, 'slow'],
		['tapering', { volts: 5.05, amps: 0.45 }, at(4.1), 'healthy'],
		['tapering from three quarters on', { volts: 5.05, amps: 0.45 }, at(3.95), 'healthy'],
		['not before', { volts: 5.05, amps: 0.45 }, at(3.93), 'slow'],
		['nothing into iron phosphate that rests full', { volts: 5.1, amps: 0 }, phosphate(3.41), 'full'],
		['nothing into one that does not', { volts: 5.1, amps: 0 }, phosphate(3.39), 'nothing'],
		['a little into one that rests full', { volts: 5.1, amps: 0.06 }, phosphate(3.4), 'full'],
		['nothing into lithium ion at as much', { volts: 5.1, amps: 0 }, at(3.41), 'nothing'],
		['healthy', { volts: 5.02, amps: 0.95 }, phone, 'healthy'],
		['healthy at another contract: the same power', { volts: 9, amps: 0.55 }, phone, 'healthy'],
		['slow at another contract', { volts: 9, amps: 0.3 }, phone, 'slow'],
		['sagging', { volts: 4.5, amps: 0.9 }, phone, 'sagging'],
		['sagging at a contract', { volts: 8.2, amps: 0.5, contract: 9 }, phone, 'sagging'],
		['too much', { volts: 4.9, amps: 2.2 }, phone, 'over']
	])('%s', (_, moment, context, kind) => {
		const verdict = judgePlugIn(moment, context);
		expect(verdict.kind).toBe(kind);
		expect(verdict.reason.length).toBeGreaterThan(10);
		expect(verdict.open.length).toBeGreaterThan(10);
	});
	it('says how long an empty battery takes', () => {
		const { wait } = judgePlugIn({ volts: 5.1, amps: 0.06 }, at(2.7));
		expect(wait?.low).toBeLessThan(wait?.usual as number);
		expect(wait?.high).toBeGreaterThan(60);
	});
	it('a device that is on feeds itself', () =>
		expect(judgePlugIn({ volts: 5, amps: 0.9, on: true }, phone).open).toContain('was on'));
	it('always has a verdict, whatever is typed', () => {
		fc.assert(
			fc.property(
				fc.double({ min: 0, max: 60, noNaN: true }),
				fc.double({ min: -20, max: 20, noNaN: true }),
				fc.option(fc.double({ min: 0, max: 20, noNaN: true })),
				(volts, amps, pack) => {
					const { kind, wait } = judgePlugIn({ volts, amps }, at(pack));
					expect(kind).toBeTruthy();
					if (wait) expect(wait.low).toBeLessThanOrEqual(wait.high);
				}
			)
		);
	});
});

describe('several looks together', () => {
	const look = (orientation: 'a' | 'b', amps: number, seconds = 20): PlugLook => ({
		orientation,
		volts: 5.1,
		amps,
		seconds
	});
	it.each<[string, PlugLook[], string[]]>([
		['both alike', [look('a', 0.9), look('b', 0.88)], []],
		['one way round only', [look('a', 0.9), look('b', 0)], ['one-side']],
		['the other has not settled yet', [look('a', 0.9), look('b', 0, 1)], []],
		['both dead', [look('a', 0), look('b', 0)], []],
		['pulsing', [look('a', 0.5), look('a', 0.02), look('a', 0.48), look('a', 0.01)], ['pulsing']],
		['rising once is no pulse', [look('a', 0.05), look('a', 0.5), look('a', 0.9)], []]
	])('%s', (_, moments, kinds) =>
		expect(judgeLooks(moments, () => phone).map(({ kind }) => kind)).toEqual(kinds)
	);
});

const path: PathNode[] = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'].map((node) => ({
	node,
	label: node.toUpperCase(),
	volts: { low: 4.7, high: 5.3 }
}));

describe('walking the power path', () => {
	it.each([
		[5, 'there'],
		[4.2, 'low'],
		[1, 'lost'],
		[6, 'high']
	])('%d V is %s', (volts, verdict) => expect(judgeNode(volts, path[0] as PathNode)).toBe(verdict));
	it('probes near the middle first, and takes about log2 of the nodes', () => {
		for (let broken = 0; broken <= path.length; broken++) {
			const measured = new Map<string, number>();
			let probes = 0;
			for (;;) {
				const { next } = walkPath(path, measured);
				if (!next || probes > 8) break;
				if (probes === 0) expect(['c', 'd', 'e', 'f']).toContain(next.node);
				const index = path.findIndex(({ node }) => node === next.node);
				measured.set(next.node, index >= broken ? 0.1 : 5);
				probes++;
			}
			const { breaks, whole } = walkPath(path, measured);
			if (broken === path.length) expect(whole).toBeGreaterThan(0.9);
			else expect(breaks[0]).toMatchObject({ to: path[broken]?.node });
			expect(probes).toBeLessThanOrEqual(5);
		}
	});
	it('follows the odds: breaks are as likely as these say, and a likely part is probed around first', () => {
		const some = path.slice(0, 3).map((node, i) => ({ ...node, faults: [['x'], ['y', 'w'], []][i] }));
		const told = breaksOf(some, [
			{ faults: ['y'], chance: 0.55 },
			{ faults: ['w', 'x'], chance: 0.1 },
			{ faults: ['w', 'z'], chance: 0.2 },
			{ faults: ['z'], chance: 0.1 },
			{ faults: [], chance: 0.05 }
		]);
		// the first stretch that a set breaks counts; what is not on the path leaves it whole
		expect(told.map((chance) => chance.toFixed(6))).toEqual(['0.100000', '0.750000', '0.000000', '0.150000']);
		const { breaks, whole, next } = walkPath(some, new Map([['a', 0]]), told);
		expect(breaks[0]).toMatchObject({ from: 'a', to: 'b', chance: told[1] });
		expect(whole).toBeCloseTo(0.15, 12);
		expect(next?.node).toBe('b');
	});
	it('one slip of the probe does not decide', () => {
		const measured = new Map([
			['a', 5],
			['b', 0.1],
			['c', 5],
			['d', 5],
			['e', 5]
		]);
		expect(walkPath(path, measured).breaks.find(({ to }) => to === 'b')?.chance).toBeLessThan(0.05);
	});
	it('chances sum to one, whatever is measured', () => {
		fc.assert(
			fc.property(
				fc.array(
					fc.tuple(
						fc.constantFrom(...path.map(({ node }) => node)),
						fc.double({ min: 0, max: 10, noNaN: true })
					)
				),
				(entries) => {
					const { breaks, whole } = walkPath(path, new Map(entries));
					expect(breaks.reduce((sum, { chance }) => sum + chance, whole)).toBeCloseTo(1, 9);
				}
			)
		);
	});
});

describe('soak', () => {
	const points = (perHour: number, minutes: number[]) =>
		minutes.map((m) => ({ minutes: m, percent: Math.round(100 - (perHour * m) / 60) }));
	it.each([
		[9, [0], 'too-early'],
		[9, [0, 5], 'too-early'],
		[9, [0, 20, 40, 60, 80, 120], 'as-it-should'],
		[20, [0, 20, 40, 60, 80], 'drains-fast'],
		[12, [0, 15, 30], 'not-sure-yet']
	] as const)('%d %% an hour seen at %j minutes: %s', (perHour, minutes, verdict) =>
		expect(soakDrain(points(perHour, [...minutes]), 9).verdict).toBe(verdict)
	);
	it('its interval holds the truth, and says when the model named nothing', () => {
		const found = soakDrain(points(9, [0, 20, 40, 60]), null);
		expect(found).toMatchObject({ from: 4, typical: true, expected: 9 });
		expect(found.perHour?.low).toBeLessThan(9);
		expect(found.perHour?.high).toBeGreaterThan(9);
	});
});

describe('waking a flat pack', () => {
	const seen = { swollen: false, punctured: false, hot: false, wet: false, longUnused: false };
	const pack = { cells: 1, chemistry: 'li-ion', capacityMah: 2000, seen };
	it.each([
		[0, 'try'],
		[1.1, 'no'],
		[1.8, 'wait'],
		[2.6, 'wait'],
		[3.7, 'not-needed'],
		[4.6, 'no']
	])('%d V: %s', (packVolts, verdict) => expect(wakePlan({ ...pack, packVolts }).verdict).toBe(verdict));
	it('never where the eyes say no, and a supply is named only where it may be tried', () => {
		for (const harm of ['swollen', 'punctured', 'hot', 'wet'] as const) {
			expect(wakePlan({ ...pack, packVolts: 0, seen: { ...seen, [harm]: true } })).toMatchObject({
				verdict: 'no',
				supply: null
			});
		}
		// waking comes before the board is condemned; it says to measure at the cells first
		const unused = wakePlan({ ...pack, packVolts: 0, seen: { ...seen, longUnused: true } });
		expect(unused).toMatchObject({ verdict: 'try', supply: { amps: 0.1, seconds: 10 } });
		expect(unused.why).toContain('under 1.5 V a cell');
		expect(wakePlan({ ...pack, packVolts: 0, cells: 3 }).supply).toEqual({
			volts: 9,
			amps: 0.1,
			seconds: 10
		});
	});
	it.each<[string, object, object | null]>([
		['a small pack waits', { packVolts: 2.6 }, null],
		['one of two cells may be kicked', { packVolts: 5.2, cells: 2 }, { volts: 6, amps: 0.1, minutes: 20 }],
		['a large cell too', { packVolts: 2.6, capacityMah: 4000 }, { volts: 3, amps: 0.2, minutes: 20 }],
		['just under', { packVolts: 2.6, capacityMah: 3999 }, null],
		['watched, where it is very low', { packVolts: 3.6, cells: 2 }, { volts: 6, amps: 0.1, minutes: 20 }],
		['never under its limit', { packVolts: 2.9, cells: 2 }, null],
		['nor in its range', { packVolts: 7.4, cells: 2 }, null]
	])('the other school: %s', (_, more, kick) =>
		expect(wakePlan({ ...pack, packVolts: 0, ...more }).kick).toEqual(kick)
	);
	it.each([
		[-0.1, 'no'],
		[0, 'wait'],
		[45, 'wait'],
		[45.1, 'no'],
		[undefined, 'wait']
	])('cells at %s °C: %s', (celsius, verdict) => {
		const plan = wakePlan({ ...pack, packVolts: 2.6, celsius });
		expect(plan.verdict).toBe(verdict);
		if (verdict === 'no') expect(plan.why).toContain('between 0 and 45 °C');
	});
	it('every answer that involves charging carries its cautions', () => {
		for (const packVolts of [0, 1, 2.5, 3.7])
			expect(wakePlan({ ...pack, packVolts }).cautions.length).toBeGreaterThan(1);
	});
});
