import { describe, expect, it } from 'vitest';
import { reference } from '$worlds/one-reference';
import { boardsForSteadyTolerance, expectedReading, type Expected } from './expected';
import { EMPTY_BOOK, knownGoodBook } from './known-good-book';
import { estimateMeterFactors, factorsAsShown, meterFactor, type MeterFactors } from './meter-factor';
import { type Mode, type ReferenceRecord } from './reference';
import { judgeReading, verdictOf, type Verdict } from './verdict';

/** Just under, at, just over: every bound of the room, so that none moves unnoticed. */

const expected = (more: Partial<Expected> = {}): Expected => ({
	centre: 0.468,
	low: 0.44,
	high: 0.5,
	overload: false,
	from: 12,
	grade: 'verified',
	scale: 0.01,
	freedom: 8,
	sisters: 0,
	...more
});

describe('a verdict', () => {
	it.each<[Mode, number, Verdict]>([
		['diode', 0.049, 'short'],
		['diode', 0.05, 'low'],
		['ohms', 1.99, 'short'],
		['ohms', 2, 'low'],
		['volts', 0.049, 'short'],
		['volts', 0.05, 'low']
	])('in %s, %d where more is expected is %s', (mode, value, verdict) =>
		expect(verdictOf({ value }, mode, 'vbus', expected({ centre: 4, low: 3.5, high: 4.5 }))).toBe(verdict)
	);
	it.each<[number, Verdict]>([
		[0.439, 'low'],
		[0.44, 'agrees'],
		[0.5, 'agrees'],
		[0.501, 'high']
	])('%d against 0.44 to 0.50 is %s', (value, verdict) =>
		expect(verdictOf({ value }, 'diode', 'vbus', expected())).toBe(verdict)
	);
	it('a small reading where hardly more is expected is low, not short', () => {
		const small = expected({ centre: 0.045, low: 0.04, high: 0.05 });
		expect(verdictOf({ value: 0.03 }, 'diode', 'x', small)).toBe('low');
		expect(verdictOf({ value: 0.03 }, 'diode', 'x', { ...small, centre: 0.05 })).toBe('short');
	});
	it.each<[Mode, string, number | 'OL', Verdict]>([
		['diode', 'vbus', 0.001, 'short'],
		['diode', 'vbus', 0.049, 'short'],
		['diode', 'vbus', -0.049, 'short'],
		['diode', 'vbus', 0.05, 'no-reference'],
		['diode', 'cc1', 0.001, 'short'],
		['diode', 'cc1', 'OL', 'no-reference'],
		['ohms', 'vbus', 1.99, 'short'],
		['ohms', 'vbus', 2, 'no-reference'],
		// under power nothing at nought is a short by itself
		['volts', 'vbus', 0, 'no-reference'],
		// the shell is ground by design
		['diode', 'shield', 0, 'no-reference'],
		['diode', 'shell', 0, 'no-reference'],
		['diode', 'chassis', 0, 'no-reference']
	])('without a reference, %s %s at %s is %s', (mode, net, value, verdict) =>
		expect(verdictOf(value === 'OL' ? { overload: true } : { value }, mode, net, null)).toBe(verdict)
	);
	it('at ground is short whatever a board with a fault said; what is verified at ground is not', () => {
		const odd = (more: Partial<Expected>) =>
			verdictOf({ value: 0.002 }, 'diode', 'vbus', expected({ centre: 0.002, low: 0, high: 0.02, ...more }));
		expect(odd({ grade: 'provisional' })).toBe('short');
		expect(odd({ grade: 'verified' })).toBe('agrees');
		expect(odd({ grade: 'provisional', overload: true, centre: 0 })).toBe('short');
		expect(judgeReading({ value: 0.002 }, 'diode', 'vbus', null)).toEqual({
			verdict: 'short',
			confidence: 0.9
		});
		expect(judgeReading({ value: 0.4 }, 'diode', 'vbus', null).confidence).toBe(0);
	});
	it.each<[Mode, number]>([
		['diode', 0.46],
		['ohms', 5100],
		['ohms', 0],
		['volts', 4.4]
	])('sisters that read exactly alike steady it, in %s at %d', (mode, value) => {
		const of = (model: string) => reference(value, { model, mode });
		const found = expectedReading({ own: [of('m')], sisters: ['a', 'b', 'c'].map(of) })!;
		expect(found.centre).toBeCloseTo(value, 9);
		expect(found.low).toBeLessThanOrEqual(value);
		expect(found.high).toBeGreaterThanOrEqual(value);
		expect(Number.isFinite(found.high - found.low)).toBe(true);
		expect(verdictOf({ value }, mode, 'd+', found)).toBe('agrees');
	});
	it.each<[Mode, number, Verdict]>([
		['diode', 0.049, 'agrees'],
		['diode', 0.05, 'high'],
		['diode', -0.049, 'agrees'],
		['diode', -0.05, 'high'],
		['ohms', 1.9, 'agrees'],
		['volts', 0, 'no-reference']
	])('ground in %s at %d is %s', (mode, value, verdict) =>
		expect(verdictOf({ value }, mode, 'gnd', null)).toBe(verdict)
	);
	it.each<[object, Verdict]>([
		[{ overload: true }, 'agrees'],
		[{ value: 0.049 }, 'short'],
		[{ value: 0.05 }, 'low']
	])('%j where overload is expected is %s', (shown, verdict) =>
		expect(verdictOf(shown, 'diode', 'x', expected({ overload: true }))).toBe(verdict)
	);
	it('is surest of ground, never less than even, and less sure on a provisional reference', () => {
		expect(judgeReading({ value: 0.001 }, 'diode', 'gnd', null).confidence).toBe(0.99);
		expect(judgeReading({ value: 0.4 }, 'diode', 'gnd', null).confidence).toBe(0.95);
		const at = (more: Partial<Expected>, value = 0.468) =>
			judgeReading({ value }, 'diode', 'x', expected(more)).confidence;
		expect(at({})).toBeGreaterThan(at({ grade: 'provisional' }));
		// Bayes by hand: a provisional one may itself be wrong one time in ten
		expect(at({ grade: 'provisional' })).toBeCloseTo(0.9 * at({}) + 0.05, 10);
		expect(at({}, 0.5)).toBeGreaterThanOrEqual(0.5);
		expect(at({}, 0.9)).toBeGreaterThan(0.99);
		expect(at({ scale: 0.2 })).toBeLessThan(at({}));
	});
	it('overload on a contact that should read is nearly certain, the other way by how many boards showed it', () => {
		const open = judgeReading({ overload: true }, 'diode', 'x', expected());
		expect(open.verdict).toBe('open');
		// by hand: 0.12 * 0.35 against 0.88 * 0.003
		expect(open.confidence).toBeCloseTo(1 - (0.88 * 0.003) / (0.88 * 0.003 + 0.12 * 0.35), 10);
		const lone = judgeReading({ overload: true }, 'diode', 'x', expected({ overload: true, from: 1 }));
		expect(lone.confidence).toBeCloseTo((0.88 * (2 / 3)) / (0.88 * (2 / 3) + 0.12 * 0.35), 10);
		const value = judgeReading(
			{ value: 0.7 },
			'diode',
			'x',
			expected({ overload: true, from: 40, centre: 0 })
		);
		// forty boards of overload leave 1 / 42, spread over two volts
		const sound = 1 / 42 / 2;
		const unsound = 0.4 / 2 + (0.25 * Math.exp(-0.7 / 0.0125)) / 0.0125;
		expect(value.confidence).toBeCloseTo(1 - (0.88 * sound) / (0.88 * sound + 0.12 * unsound), 10);
	});
});

describe('what a contact should read', () => {
	const width = (value: { low: number; high: number } | null) => (value ? value.high - value.low : NaN);
	const many = (value: number, count: number, more: Partial<ReferenceRecord> = {}) =>
		Array.from({ length: count }, () => reference(value, more));
	it('never narrower than boards of one model usually agree within, by mode', () => {
		expect(width(expectedReading({ own: many(0.468, 200) }))).toBeCloseTo(0.04, 6);
		expect(width(expectedReading({ own: many(100, 200, { mode: 'ohms' }) }))).toBeCloseTo(20, 4);
		expect(width(expectedReading({ own: many(3, 200, { mode: 'volts' }) }))).toBeCloseTo(0.1, 6);
	});
	it('a diode never reads below nothing, volts may', () => {
		expect(expectedReading({ own: [reference(0.005)] })?.low).toBe(0);
		expect(expectedReading({ own: [reference(0.005, { mode: 'volts' })] })?.low).toBeLessThan(0);
	});
	it.each<[(number | 'OL')[], boolean]>([
		[['OL'], true],
		[[0.4, 'OL'], true],
		[[0.4, 0.41, 'OL'], false],
		[[0.4, 'OL', 'OL'], true]
	])('boards that show %j: overload expected %s', (values, overload) =>
		expect(expectedReading({ own: values.map((value) => reference(value)) })?.overload).toBe(overload)
	);
	it('withdrawn readings never count, those of another board only where there are none of this', () => {
		const withdrawn = { withdrawn: { at: '2026-01-01T00:00:00Z', because: 'x' } };
		expect(expectedReading({ own: [reference(0.4, withdrawn)] })).toBeNull();
		const own = [
			reference(0.4, { board: 'A' }),
			reference(0.6, { board: 'B' }),
			reference(0.6, { board: 'B' })
		];
		expect(expectedReading({ own }, { board: 'A' })).toMatchObject({ from: 1 });
		expect(expectedReading({ own }, { board: 'B' })).toMatchObject({ from: 2 });
		expect(expectedReading({ own }, { board: 'C' })).toMatchObject({ from: 3 });
		expect(expectedReading({ own })).toMatchObject({ from: 3 });
		expect(expectedReading({ own: [...own, reference(0.6)] }, { board: 'B' })).toMatchObject({ from: 3 });
	});
	it('sisters steady it from two on; provisional, withdrawn and empty ones do not', () => {
		const sister = (model: string, value: number | 'OL', more: Partial<ReferenceRecord> = {}) =>
			reference(value, { model, ...more });
		const own = [reference(0.47)];
		const sisters = (some: ReferenceRecord[]) => expectedReading({ own, sisters: some })?.sisters;
		expect(sisters([sister('a', 0.46)])).toBe(0);
		expect(sisters([sister('a', 0.46), sister('b', 0.465)])).toBe(2);
		expect(sisters([sister('a', 0.46), sister('b', 0.465, { grade: 'provisional' })])).toBe(0);
		expect(sisters([sister('a', 0.46), sister('b', 'OL')])).toBe(0);
		const gone = { at: '2026-01-01T00:00:00Z', because: 'x' };
		expect(sisters([sister('a', 0.46), sister('b', 0.465, { withdrawn: gone })])).toBe(0);
		// one model on two boards is two sisters
		expect(sisters([sister('a', 0.46, { board: '1' }), sister('a', 0.465, { board: '2' })])).toBe(2);
		const alone = expectedReading({ own }) as Expected;
		const steadied = expectedReading({
			own,
			sisters: [sister('a', 0.46), sister('b', 0.46), sister('c', 0.46)]
		});
		expect(steadied?.centre).toBeLessThan(alone.centre);
		expect(steadied?.centre).toBeGreaterThan(0.46);
	});
	it('meters are brought to this one by their factor, in diode mode alone', () => {
		const factors: MeterFactors = new Map([['a\tb', { factor: 1.1, low: 1.05, high: 1.15, contacts: 9 }]]);
		const own = [reference(0.4, { meter: 'a' })];
		expect(expectedReading({ own, factors }, { meter: 'b' })).toMatchObject({
			centre: expect.closeTo(0.44, 10) as number,
			corrected: [{ meter: 'a', factor: 1.1, contacts: 9 }]
		});
		for (const same of [{}, { meter: 'a' }]) {
			const plain = expectedReading({ own, factors }, same) as Expected;
			expect(plain.centre).toBeCloseTo(0.4, 10);
			expect(plain).not.toHaveProperty('corrected');
			expect(plain).not.toHaveProperty('uncorrected');
		}
		expect(expectedReading({ own, factors }, { meter: 'c' })).toMatchObject({ uncorrected: ['a'] });
		const ohms = expectedReading(
			{ own: [reference(40, { meter: 'a', mode: 'ohms' })], factors },
			{ meter: 'b' }
		);
		expect(ohms?.centre).toBeCloseTo(40, 10);
		const unnamed = expectedReading({ own: [reference(0.4)], factors }, { meter: 'b' });
		expect(unnamed).not.toHaveProperty('uncorrected');
	});
	it('by hand: one board, Student’s t with the trade’s spread worth four boards', () => {
		const one = expectedReading({ own: [reference(0.468)] }) as Expected;
		const usual = 0.02 / 2.576;
		// t(0.995) with 4 degrees of freedom is 4.604 (any table of Student's t)
		expect(one.freedom).toBe(4);
		expect(one.high - one.centre).toBeCloseTo(4.604 * Math.sqrt(usual ** 2 + usual ** 2), 4);
	});
	it('so many boards until more hardly narrow it', () => expect(boardsForSteadyTolerance()).toBe(19));
	it('a book answers each contact once, and an empty one nothing', () => {
		const book = knownGoodBook({ own: [reference(0.468), reference(0.2, { pin: 'A5' })] });
		expect(book.expected('A4', 'diode')?.centre).toBeCloseTo(0.468, 10);
		expect(book.expected('A4', 'diode')).toBe(book.expected('A4', 'diode'));
		expect(book.expected('A5', 'diode', { meter: 'x' })).not.toBe(
			book.expected('A5', 'diode', { meter: 'y' })
		);
		expect(book.expected('A6', 'diode')).toBeNull();
		expect(book.expected('A4', 'ohms')).toBeNull();
		expect(knownGoodBook({ own: [] })).toBe(EMPTY_BOOK);
		expect(EMPTY_BOOK.expected('A4', 'diode')).toBeNull();
	});
});

describe('factors between meters', () => {
	const pair = (pin: string, a: number, b: number) => [
		reference(a, { pin, meter: 'a' }),
		reference(b, { pin, meter: 'b' })
	];
	const four = [0.4, 0.5, 0.6, 0.7].flatMap((value, i) => pair(`A${i}`, value, value * 1.1));
	it('from four contacts on, both ways, exact where they agree', () => {
		const factors = estimateMeterFactors(four);
		expect(factors.size).toBe(2);
		expect(meterFactor(factors, 'a', 'b')).toMatchObject({ contacts: 4, factor: expect.closeTo(1.1, 10) });
		expect(meterFactor(factors, 'b', 'a')?.factor).toBeCloseTo(1 / 1.1, 10);
		expect(estimateMeterFactors(four.slice(0, 6)).size).toBe(0);
	});
	it('neither grounds, other modes, unnamed meters nor withdrawn readings count', () => {
		const [, ...rest] = four;
		const broken = (more: Partial<ReferenceRecord>) =>
			estimateMeterFactors([{ ...(four[0] as ReferenceRecord), ...more }, ...rest]).size;
		expect(broken({})).toBe(2);
		expect(broken({ value: 0.1 })).toBe(2);
		expect(broken({ value: 0.099 })).toBe(0);
		expect(broken({ mode: 'ohms' })).toBe(0);
		expect(broken({ meter: undefined })).toBe(0);
		expect(broken({ withdrawn: { at: '2026-01-01T00:00:00Z', because: 'x' } })).toBe(0);
	});
	it('a scattered one has an interval about it; shown to three decimals', () => {
		const scattered = [1.08, 1.09, 1.1, 1.11, 1.12].flatMap((f, i) => pair(`A${i}`, 0.5, 0.5 * f));
		const found = meterFactor(estimateMeterFactors(scattered), 'a', 'b');
		expect(found).toMatchObject({ factor: expect.closeTo(1.1, 6), contacts: 5 });
		expect(found && found.low < 1.1 && found.high > 1.1).toBe(true);
		expect((found?.high ?? 0) * (found?.low ?? 0)).toBeCloseTo(1.21, 6);
		const shown = factorsAsShown(
			new Map([['a\tb', { factor: 1.23456, low: 1.2, high: 1.2999, contacts: 5 }]])
		);
		expect(shown.get('a\tb')).toEqual({ factor: 1.235, low: 1.2, high: 1.3, contacts: 5 });
	});
	it('there is none where a meter is not named, or is the same', () => {
		const factors = estimateMeterFactors(four);
		for (const [from, to] of [
			[undefined, 'b'],
			['a', undefined],
			['a', 'a'],
			['a', 'c']
		] as const) {
			expect(meterFactor(factors, from, to)).toBeNull();
		}
		const self: MeterFactors = new Map([['a\ta', { factor: 2, low: 2, high: 2, contacts: 9 }]]);
		expect(meterFactor(self, 'a', 'a')).toBeNull();
	});
});
