import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Connector } from '../catalog/catalog';
import { mirroredContacts, neighbouringContacts, partnerNets } from '../catalog/contact-geometry';
import { STANDARD_CONNECTORS } from '../catalog/standard-connectors';
import { seededRandom, drawNormal } from '../units/random';
import { compareReadings, type TakenReading } from './compare';
import { continuityMatrix, continuityWords } from './continuity';
import { expectedReading } from './expected';
import { knownGoodBook } from './known-good-book';
import { estimateMeterFactors, meterFactor } from './meter-factor';
import type { ReferenceRecord } from './reference';
import { findSignatures, type JudgedTicket } from './signatures';
import type { Verdict } from './verdict';

const connector = (code: string) => STANDARD_CONNECTORS.find((item) => item.code === code) as Connector;
const good = (pin: string, value: number, more: Partial<ReferenceRecord> = {}): ReferenceRecord => ({
	record: 'reference',
	model: 'm',
	pin,
	mode: 'diode',
	value,
	grade: 'verified',
	...more
});
const read = (pin: string, value: number | 'OL', more: Partial<TakenReading> = {}): TakenReading => ({
	pin,
	mode: 'diode',
	...(value === 'OL' ? { overload: true } : { value }),
	...more
});
const kinds = (code: string, readings: TakenReading[], own: ReferenceRecord[] = []) =>
	compareReadings(connector(code), readings, knownGoodBook({ own })).findings.map(
		({ kind, pins }) => `${kind} ${pins.join(' ')}`
	);

describe('contacts to each other', () => {
	const names = (pairs: readonly (readonly { pin: string }[])[]) =>
		pairs.map((pair) => pair.map(({ pin }) => pin).join(' '));
	it('neighbours stay on their side', () => {
		expect(names(neighbouringContacts(connector('micro-b')))).toEqual(['1 2', '2 3', '3 4', '4 5']);
		expect(names(neighbouringContacts(connector('type-c-24')))).not.toContain('A12 B12');
	});
	it('a number on two sides is mirrored', () =>
		expect(names(mirroredContacts(connector('type-c-16')))).toContain('A6 B6'));
	it('partners by name, or as the connector says', () => {
		expect(partnerNets(connector('type-c-16'))).toEqual(
			expect.arrayContaining([
				['d+', 'd-'],
				['cc1', 'cc2']
			])
		);
		expect(partnerNets({ ...connector('micro-b'), alike: [['id', 'vbus']] })).toEqual([['id', 'vbus']]);
	});
});

describe('findings with no reference', () => {
	it.each<[string, TakenReading[], string[]]>([
		[
			'two contacts of a net, one value against another',
			[read('A6', 0.61), read('B6', 0.3)],
			['net-disagreement A6 B6']
		],
		['an overload beside a value', [read('A6', 0.61), read('B6', 'OL')], ['net-disagreement B6']],
		['configuration lines apart', [read('A5', 0.73), read('B5', 0.42)], ['pair-disagreement A5 B5']],
		['configuration lines alike', [read('A5', 0.73), read('B5', 0.71)], []],
		['data lines apart', [read('A6', 0.61), read('A7', 0.002)], ['pair-disagreement A6 A7']],
		['a bridge to ground', [read('A1', 0.001), read('A4', 0.47), read('A5', 0.471)], ['bridge A4 A5']],
		['no bridge between partners', [read('A6', 0.61), read('A7', 0.61)], []],
		['overload on both is no bridge', [read('A4', 'OL'), read('A5', 'OL')], []],
		['ground lost', [read('A1', 0.4)], ['ground-missing A1']]
	])('%s', (_, readings, found) => expect(kinds('type-c-16', readings)).toEqual(found));

	it('the mirrored side must agree', () => {
		expect(kinds('type-c-24', [read('A2', 0.4), read('B2', 0.7)])).toEqual(['mirror-disagreement A2 B2']);
		expect(kinds('type-c-24', [read('A2', 0.4), read('B2', 0.41)])).toEqual([]);
	});
	it('under power partners may differ', () =>
		expect(
			kinds('type-c-16', [read('A6', 3.3, { mode: 'volts' }), read('A7', 0, { mode: 'volts' })])
		).toEqual([]));
	it('modes are never compared with each other', () =>
		expect(kinds('type-c-16', [read('A6', 0.61), read('B6', 1200, { mode: 'ohms' })])).toEqual([]));
});

describe('findings with references', () => {
	it('the contact that its references call wrong dissents, not the other', () =>
		expect(
			kinds('type-c-16', [read('A6', 0.61), read('B6', 0.3)], [good('A6', 0.61), good('B6', 0.61)])
		).toContain('net-disagreement B6'));
	it('lines that are known to differ are no finding', () =>
		expect(
			kinds('type-c-16', [read('A5', 0.73), read('B5', 0.42)], [good('A5', 0.73), good('B5', 0.42)])
		).toEqual([]));
	it('neighbours that should read alike are no bridge', () =>
		expect(kinds('micro-b', [read('1', 0.5), read('2', 0.5)], [good('1', 0.5), good('2', 0.5)])).toEqual([]));
	it('neighbours that should differ and do not are one', () =>
		expect(kinds('micro-b', [read('1', 0.5), read('2', 0.5)], [good('1', 0.5), good('2', 0.61)])).toContain(
			'bridge 1 2'
		));
});

describe('known good', () => {
	it('a withdrawn reading is never leaned on', () => {
		const withdrawn = { at: '2026-01-01T00:00:00Z', because: 'another board' };
		expect(expectedReading({ own: [good('1', 0.2, { withdrawn })] })).toBeNull();
		expect(expectedReading({ own: [good('1', 0.2, { withdrawn }), good('1', 0.5)] })).toMatchObject({
			centre: 0.5,
			from: 1
		});
	});
	it('sister models pull a single board towards them, many boards not', () => {
		const sisters = ['a', 'b', 'c'].flatMap((model) =>
			[0.5, 0.502, 0.498].map((v) => good('1', v, { model }))
		);
		const one = expectedReading({ own: [good('1', 0.53)], sisters });
		expect(one?.centre).toBeLessThan(0.528);
		expect(one?.centre).toBeGreaterThan(0.5);
		expect(one?.sisters).toBe(3);
		const many = expectedReading({ own: Array.from({ length: 40 }, () => good('1', 0.53)), sisters });
		expect(many?.centre).toBeGreaterThan(one?.centre as number);
	});
	it('another board revision counts as a sister', () => {
		const own = [good('1', 0.6, { board: 'r2' }), good('1', 0.5, { board: 'r1' })];
		expect(expectedReading({ own }, { board: 'r2' })?.centre).toBeCloseTo(0.6, 6);
		expect(expectedReading({ own })?.from).toBe(2);
	});
	it('a prediction interval holds about 99 of 100 sound boards, however few it rests on', () => {
		const random = seededRandom(11);
		for (const boards of [1, 3, 8, 30]) {
			let inside = 0;
			for (let i = 0; i < 1500; i++) {
				const draw = () => 0.5 + 0.0075 * drawNormal(random);
				const expected = expectedReading({ own: Array.from({ length: boards }, () => good('1', draw())) });
				const next = draw();
				if (expected && next >= expected.low && next <= expected.high) inside++;
			}
			expect(inside / 1500, `${boards} boards`).toBeGreaterThan(0.975);
		}
	});
	it('the verdict is surer with more boards, and says so of a provisional one', () => {
		const sure = (own: ReferenceRecord[]) =>
			compareReadings(connector('micro-b'), [read('1', 0.5)], knownGoodBook({ own })).pins[0]?.confidence ??
			0;
		const many = Array.from({ length: 12 }, () => good('1', 0.5));
		expect(sure(many)).toBeGreaterThan(sure([good('1', 0.5)]));
		expect(sure(many)).toBeGreaterThan(sure(many.map((one) => ({ ...one, grade: 'provisional' as const }))));
	});
});

describe('meters differ', () => {
	const nets = ['1', '2', '3', '4', '5', '6'];
	const shared = nets.flatMap((pin, i) => [
		good(pin, 0.4 + 0.05 * i, { meter: 'bench' }),
		good(pin, (0.4 + 0.05 * i) * 1.06, { meter: 'handheld' })
	]);
	const factors = estimateMeterFactors(shared);
	it('by a factor, estimated from contacts that both have read', () => {
		expect(meterFactor(factors, 'bench', 'handheld')).toMatchObject({ contacts: 6 });
		expect(meterFactor(factors, 'bench', 'handheld')?.factor).toBeCloseTo(1.06, 9);
		expect(meterFactor(factors, 'handheld', 'bench')?.factor).toBeCloseTo(1 / 1.06, 9);
		expect(meterFactor(factors, 'bench', 'bench')).toBeNull();
		expect(meterFactor(factors, 'bench', 'third')).toBeNull();
	});
	it('the comparison is corrected for it, and says so', () => {
		const own = [good('9', 0.5, { meter: 'bench' })];
		const corrected = expectedReading({ own, factors }, { meter: 'handheld' });
		expect(corrected?.centre).toBeCloseTo(0.53, 6);
		expect(corrected?.corrected).toEqual([{ meter: 'bench', factor: expect.closeTo(1.06, 6), contacts: 6 }]);
		expect(expectedReading({ own, factors }, { meter: 'third' })?.uncorrected).toEqual(['bench']);
	});
	it('nothing is said of meters that share few contacts', () =>
		expect(estimateMeterFactors(shared.slice(0, 6)).size).toBe(0));
});

describe('signatures', () => {
	const ticket = (fault: string, verdict: Verdict, place = 'cc1'): JudgedTicket => ({
		faults: [fault],
		verdicts: new Map([[place, verdict]])
	});
	const many = (count: number, make: () => JudgedTicket) => Array.from({ length: count }, make);
	it('finds what goes with a fault, with rates and intervals', () => {
		const found = findSignatures([
			...many(9, () => ticket('controller', 'low')),
			...many(3, () => ticket('controller', 'agrees')),
			...many(2, () => ticket('fuse', 'low')),
			...many(48, () => ticket('fuse', 'agrees'))
		]);
		expect(found).toHaveLength(1);
		expect(found[0]).toMatchObject({
			place: 'cc1',
			verdict: 'low',
			fault: 'controller',
			withFault: { hits: 9, of: 12 },
			without: { hits: 2, of: 50 }
		});
		expect(found[0]?.withFault.low).toBeGreaterThan(found[0]?.without.high as number);
	});
	it('finds next to nothing where there is nothing', () => {
		const random = seededRandom(5);
		let found = 0;
		for (let run = 0; run < 60; run++) {
			const noise = Array.from({ length: 120 }, (): JudgedTicket => ({
				faults: [`f${Math.floor(random() * 6)}`],
				verdicts: new Map(
					['a', 'b', 'c', 'd'].map((place) => [
						place,
						random() < 0.1 ? ('open' as const) : ('agrees' as const)
					])
				)
			}));
			found += findSignatures(noise).length > 0 ? 1 : 0;
		}
		expect(found).toBeLessThanOrEqual(8);
	});
	it('a cluster of values says more than the deviation, where others deviate elsewhere', () => {
		const reads = (fault: string, value: number | null): JudgedTicket => ({
			faults: [fault],
			verdicts: new Map([['A5', value === null ? 'agrees' : 'low']]),
			values: new Map(value === null ? [] : [['A5', value]])
		});
		const tickets = [
			...[0.39, 0.395, 0.4, 0.4, 0.405, 0.41, 0.412].map((value) => reads('controller', value)),
			...[0.2, 0.28, 0.31, 0.5, 0.55, 0.6].map((value) => reads('fuse', value)),
			...many(5, () => reads('controller', null)),
			...many(40, () => reads('fuse', null))
		];
		const [found, ...others] = findSignatures(tickets);
		expect(others).toEqual([]);
		expect(found).toMatchObject({
			place: 'A5',
			verdict: 'low',
			fault: 'controller',
			values: { centre: 0.4, low: 0.39, high: 0.412 },
			withFault: { hits: 7, of: 12 },
			without: { hits: 0, of: 46 }
		});
		expect(findSignatures([...tickets].reverse())).toEqual([found]);
		// where all that deviate deviate alike the values say nothing more
		const alike = tickets.filter(({ faults, values }) => faults[0] !== 'fuse' || values?.size === 0);
		expect(findSignatures(alike)[0]).not.toHaveProperty('values');
	});
	it('a window is as wide as boards of one model differ: 0.04', () => {
		const reads = (fault: string, value: number): JudgedTicket => ({
			faults: [fault],
			verdicts: new Map([['A5', 'low']]),
			values: new Map([['A5', value]])
		});
		const cluster = (high: number) =>
			findSignatures([
				...[0.3, 0.31, 0.32, 0.33, high].map((value) => reads('x', value)),
				...Array.from({ length: 30 }, (_, i) => reads('y', 0.5 + i / 50))
			])[0]?.withFault.hits;
		expect(cluster(0.34)).toBe(5);
		expect(cluster(0.341)).toBe(4);
	});
	it('finds next to no cluster where there is none', () => {
		const random = seededRandom(8);
		let found = 0;
		for (let run = 0; run < 60; run++) {
			const noise = Array.from({ length: 120 }, (): JudgedTicket => {
				const low = random() < 0.4;
				return {
					faults: [`f${Math.floor(random() * 6)}`],
					verdicts: new Map([['a', low ? ('low' as const) : ('agrees' as const)]]),
					values: new Map(low ? [['a', Math.round(1000 * (0.1 + 0.4 * random())) / 1000]] : [])
				};
			});
			found += findSignatures(noise).length > 0 ? 1 : 0;
		}
		expect(found).toBeLessThanOrEqual(8);
	});
	it('does not depend on the order of tickets', () => {
		const tickets = [...many(6, () => ticket('x', 'short')), ...many(20, () => ticket('y', 'agrees'))];
		expect(findSignatures([...tickets].reverse())).toEqual(findSignatures(tickets));
	});
});

describe('continuity', () => {
	it('joins what shares a net and nothing else; the short list proves the long one', () => {
		fc.assert(
			fc.property(
				fc.array(fc.constantFrom('gnd', 'vbus', 'd+', 'd-'), { minLength: 2, maxLength: 12 }),
				(nets) => {
					const made: Connector = {
						record: 'connector',
						code: 'x',
						label: 'X',
						pins: nets.map((net, i) => ({ pin: String(i), net }))
					};
					const { all, probes } = continuityMatrix(made);
					expect(all).toHaveLength((nets.length * (nets.length - 1)) / 2);
					for (const {
						nets: [a, b],
						connected
					} of all)
						expect(connected).toBe(a === b);
					// what the short list says connects must join exactly the members of each net
					const group = nets.map((_, i) => i);
					for (const { pins, connected } of probes) {
						if (!connected) continue;
						const [a, b] = pins.map((pin) => group[Number(pin)] as number);
						group.forEach((g, i) => g === b && (group[i] = a as number));
					}
					nets.forEach((net, i) =>
						nets.forEach((other, j) => expect(group[i] === group[j]).toBe(net === other))
					);
					// and every two nets are held against each other once
					for (const a of new Set(nets)) {
						for (const b of new Set(nets)) {
							if (a === b) continue;
							expect(probes.some(({ nets: [x, y] }) => (x === a && y === b) || (x === b && y === a))).toBe(
								true
							);
						}
					}
				}
			)
		);
	});
	it('words a miss', () => {
		expect(continuityWords({ pins: ['A4', 'B9'], nets: ['vbus', 'vbus'], connected: true })).toContain(
			'open joint'
		);
		expect(continuityWords({ pins: ['A4', 'A5'], nets: ['vbus', 'cc1'], connected: false })).toContain(
			'bridge'
		);
	});
});
