import { describe, expect, it } from 'vitest';
import { quoteAccuracy, type QuotedJob } from './quote-accuracy';

const job = (key: string, quotedMinor: number, costMinor: number, paidMinor = quotedMinor): QuotedJob => ({
	key,
	quotedMinor,
	costMinor,
	paidMinor
});

describe('quotes beside what their jobs cost', () => {
	it('by hand: means, jobs that overran, and the price at which they would just have paid', () => {
		const [found] = quoteAccuracy([job('a', 8000, 4000), job('a', 6000, 7000), job('a', 6000, 4000, 0)]);
		expect(found).toEqual({
			key: 'a',
			jobs: 3,
			quotedMinor: 20_000 / 3,
			costMinor: 5000,
			paidMinor: 14_000 / 3,
			overran: 1,
			// seven tenths of what was quoted came in
			breakEvenMinor: 5000 / 0.7
		});
	});
	it('what cost just as much as was quoted did not overrun; nothing paid has no price at which it would pay', () => {
		expect(quoteAccuracy([job('a', 5000, 5000)])[0]).toMatchObject({ overran: 0, breakEvenMinor: 5000 });
		expect(quoteAccuracy([job('a', 5000, 5000, 0)])[0]?.breakEvenMinor).toBeNull();
		expect(quoteAccuracy([job('a', 0, 100, 0)])[0]?.breakEvenMinor).toBeNull();
		expect(quoteAccuracy([])).toEqual([]);
	});
	it('those that overran most often first, of equal ones the more jobs, then by name', () => {
		const jobs = [job('c', 10, 5), job('b', 10, 5), job('d', 10, 5), job('d', 10, 5), job('e', 10, 20)];
		expect(quoteAccuracy(jobs).map(({ key }) => key)).toEqual(['e', 'd', 'b', 'c']);
	});
	it('at the price that it names, the jobs would have paid what they cost', () => {
		const jobs = [job('a', 9000, 5000), job('a', 9000, 8000), job('a', 9000, 6000, 0)];
		const [found] = quoteAccuracy(jobs);
		const [breakEvenMinor, costMinor] = [found?.breakEvenMinor ?? 0, found?.costMinor ?? 0];
		const paid = jobs.map(({ paidMinor }) => (paidMinor > 0 ? breakEvenMinor : 0));
		expect(paid.reduce((a, b) => a + b, 0) / 3).toBeCloseTo(costMinor, 9);
	});
});
