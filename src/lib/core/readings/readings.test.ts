import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { facingPin, STANDARD_CONNECTORS } from '../catalog/standard-connectors';
import { compareReadings, type TakenReading } from './compare';
import type { ReferenceRecord } from './reference';
import { formatReading, parseTypedReading } from './typed-reading';
import { boardsForSteadyTolerance, expectedReading as expectedOf } from './expected';
import { knownGoodBook } from './known-good-book';
import { judgeReading } from './verdict';

const connector = (code: string) => {
	const found = STANDARD_CONNECTORS.find((item) => item.code === code);
	if (!found) throw new Error(code);
	return found;
};
const good = (pin: string, value: number, grade: 'verified' | 'provisional' = 'verified') =>
	({ record: 'reference', model: 'm', pin, mode: 'diode', value, grade }) satisfies ReferenceRecord;
const expectedReading = (own: readonly ReferenceRecord[]) => expectedOf({ own });
const book = (own: readonly ReferenceRecord[]) => knownGoodBook({ own });
const diode = (pin: string, value: number): TakenReading => ({ pin, mode: 'diode', value });

describe('expected reading', () => {
	it('is null without any known-good reading', () => expect(expectedReading([])).toBeNull());
	it('takes the median and shrugs off one mistyped board', () => {
		const expected = expectedReading([0.46, 0.468, 0.47, 4.68].map((value) => good('A4', value)));
		expect(expected?.centre).toBeCloseTo(0.469, 6);
		expect(expected?.from).toBe(4);
	});
	it('widens while there are few', () => {
		const one = expectedReading([good('A4', 0.468)]);
		const many = expectedReading(Array.from({ length: 14 }, () => good('A4', 0.468)));
		const width = ({ low, high }: { low: number; high: number }) => high - low;
		// never under what boards of one model usually agree within
		expect(width(many as never)).toBeGreaterThanOrEqual(0.04);
		expect(width(one as never)).toBeGreaterThan(1.5 * width(many as never));
		expect(boardsForSteadyTolerance()).toBeGreaterThan(3);
		expect(boardsForSteadyTolerance()).toBeLessThan(30);
	});
	it('leans on verified readings alone where there are any', () => {
		const expected = expectedReading([good('A4', 0.3, 'provisional'), good('A4', 0.468)]);
		expect(expected).toMatchObject({ centre: 0.468, from: 1, grade: 'verified' });
		expect(expectedReading([good('A4', 0.3, 'provisional')])?.grade).toBe('provisional');
	});
});

describe('verdict', () => {
	const expected = expectedReading(Array.from({ length: 14 }, () => good('A4', 0.468)));
	it.each([
		[{ value: 0.47 }, 'agrees'],
		[{ value: 0.003 }, 'short'],
		[{ value: 0.3 }, 'low'],
		[{ value: 0.61 }, 'high'],
		[{ overload: true }, 'open']
	] as const)('%j on a contact that reads 0.468 is %s', (shown, verdict) =>
		expect(judgeReading(shown, 'diode', 'vbus', expected).verdict).toBe(verdict)
	);
	it('knows ground without a reference', () => {
		expect(judgeReading({ value: 0.001 }, 'diode', 'gnd', null).verdict).toBe('agrees');
		expect(judgeReading({ overload: true }, 'diode', 'gnd', null).verdict).toBe('open');
	});
	it('says so where there is no reference', () =>
		expect(judgeReading({ value: 0.4 }, 'diode', 'cc1', null)).toEqual({
			verdict: 'no-reference',
			confidence: 0
		}));
	it('expects overload where good boards show overload', () => {
		const open = expectedReading([
			{ record: 'reference', model: 'm', pin: 'A2', mode: 'diode', overload: true, grade: 'verified' }
		]);
		expect(judgeReading({ overload: true }, 'diode', 'tx1+', open).verdict).toBe('agrees');
		expect(judgeReading({ value: 0.7 }, 'diode', 'tx1+', open).verdict).toBe('low');
	});
});

describe('comparison', () => {
	it('finds an open joint by its net alone, with no reference', () => {
		const result = compareReadings(
			connector('type-c-16'),
			[
				diode('A4', 0.468),
				diode('A9', 0.47),
				diode('B4', 0.469),
				{ pin: 'B9', mode: 'diode', overload: true }
			],
			book([])
		);
		expect(result.nets.find(({ net }) => net === 'vbus')).toMatchObject({
			agree: false,
			dissenting: ['B9']
		});
		expect(result.findings[0]).toMatchObject({ kind: 'net-disagreement', pins: ['B9'] });
	});
	it('reports lost ground', () => {
		const result = compareReadings(connector('micro-b'), [diode('5', 0.6)], book([]));
		expect(result.findings.map(({ kind }) => kind)).toEqual(['ground-missing']);
	});
	it('counts the latest of two readings and leaves out contacts that do not exist', () => {
		const result = compareReadings(
			connector('micro-b'),
			[diode('1', 0.001), diode('1', 0.5), diode('Z9', 0.5)],
			book([good('1', 0.5)])
		);
		expect(result.pins).toHaveLength(1);
		expect(result.pins[0]?.verdict).toBe('agrees');
	});
	it('never depends on the order of the references', () => {
		fc.assert(
			fc.property(
				fc.array(fc.double({ min: 0.1, max: 1, noNaN: true }), { minLength: 1, maxLength: 9 }),
				(values) => {
					const references = values.map((value) => good('1', value));
					const taken = [diode('1', 0.5)];
					expect(compareReadings(connector('micro-b'), taken, book(references))).toEqual(
						compareReadings(connector('micro-b'), taken, book([...references].reverse()))
					);
				}
			)
		);
	});
});

describe('typing on the number pad', () => {
	it.each([
		['468', 0.468],
		['0', 0],
		['1204', 1.204],
		['0.4', 0.4],
		['0,45', 0.45]
	])('%s is %d', (typed, value) => expect(parseTypedReading(typed)).toEqual({ value }));
	it.each(['', 'abc', '12345', '1.2345', '.'])('%j is nothing yet', (typed) =>
		expect(parseTypedReading(typed)).toBeNull()
	);
	it('shows three decimals or OL', () => {
		expect(formatReading({ value: 0.4 })).toBe('0.400');
		expect(formatReading({ overload: true })).toBe('OL');
		expect(formatReading({})).toBe('');
	});
});

describe('facing contacts', () => {
	it('mirrors the whole row onto the other and back', () => {
		for (const { pin } of connector('type-c-24').pins) {
			const facing = facingPin(pin);
			expect(facing && facingPin(facing)).toBe(pin);
		}
		expect(facingPin('5')).toBeNull();
	});
});
