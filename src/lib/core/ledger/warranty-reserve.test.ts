import { describe, expect, it } from 'vitest';
import { DAY_MS } from '../units/instant';
import { warrantyReserve, type Warranted } from './warranty-reserve';

const fixed = (number: string, closedDay: number, more: Partial<Warranted> = {}): Warranted => ({
	number,
	comebackOf: null,
	cause: null,
	outcome: 'fixed',
	openedAt: (closedDay - 1) * DAY_MS,
	closedAt: closedDay * DAY_MS,
	partsMinor: 0,
	labourMinor: 0,
	paidMinor: 0,
	...more
});
const back = (
	number: string,
	of: string,
	openedDay: number,
	labourMinor: number,
	more: Partial<Warranted> = {}
) =>
	fixed(number, openedDay + 1, {
		comebackOf: of,
		openedAt: openedDay * DAY_MS,
		outcome: 'not-fixed',
		labourMinor,
		...more
	});
const causes = new Map([
	['misuse', { counts: false }],
	['joint', {}]
]);
const reserveAt = (tickets: readonly Warranted[], day: number, warrantyDays: number) =>
	warrantyReserve(tickets, { asOf: day * DAY_MS, warrantyDays, causes });

describe('reserve for warranty', () => {
	// ten were fixed on day 0, two of them came back after 10 and 20 days, at 3000 and 5000
	const past = [
		...Array.from({ length: 10 }, (_, i) => fixed(`A${i}`, 0)),
		back('B1', 'A1', 10, 3000),
		back('B2', 'A2', 20, 5000)
	];
	it('by hand: one that was just fixed comes back with .2 within 30 days, at 4000', () => {
		const reserve = reserveAt([...past, fixed('C', 99.999)], 100, 30);
		expect(reserve).toMatchObject({ underWarranty: 1, from: 2, meanMinor: 4000 });
		expect(reserve.comebacks).toBeCloseTo(0.2, 9);
		expect(reserve.expectedMinor).toBe(800);
		// compound Poisson: .2 · (3000² + 5000²) / 2
		expect(reserve.highMinor).toBe(Math.round(800 + 1.2816 * Math.sqrt(0.2 * 17e6)));
		expect(reserve.lowMinor).toBe(0);
	});
	it('one that has held for 15 days comes back with (.9 - .8) / .9', () =>
		expect(reserveAt([...past, fixed('C', 85)], 100, 30).comebacks).toBeCloseTo(
			// the eleventh is followed for 15 days only: survival is 10/11 · 8/9 at the end, 10/11 at 15
			1 - ((10 / 11) * (1 - 1 / 9)) / (10 / 11),
			9
		));
	it('nothing under warranty, nothing to set aside; what came back already is not counted again', () => {
		expect(reserveAt(past, 100, 30).expectedMinor).toBe(0);
		expect(reserveAt(past, 25, 30).underWarranty).toBe(8);
		expect(reserveAt([], 0, 90)).toMatchObject({ expectedMinor: 0, highMinor: 0, from: 0 });
	});
	it('what is not known yet at the moment is not looked at', () =>
		expect(reserveAt(past, 15, 30)).toMatchObject({ from: 1, underWarranty: 9 }));
	it.each<[string, Warranted, Partial<ReturnType<typeof reserveAt>>]>([
		[
			'paid for in part it costs the rest',
			back('B3', 'A3', 5, 2000, { partsMinor: 500, paidMinor: 1500 }),
			{ from: 3, meanMinor: 3000 }
		],
		[
			'paid for in full it costs nothing, and pays for no other',
			back('B3', 'A3', 5, 1000, { paidMinor: 9000 }),
			{ from: 3, meanMinor: 8000 / 3 }
		],
		[
			'a cause that does not speak against the work: no comeback, no cost',
			back('B3', 'A3', 5, 9000, { cause: 'misuse' }),
			{ from: 2, meanMinor: 4000 }
		],
		['one that does', back('B3', 'A3', 5, 1000, { cause: 'joint' }), { from: 3, meanMinor: 3000 }],
		['one that came in before the job was closed', back('B3', 'A3', -1, 9000), { from: 2, meanMinor: 4000 }],
		['one of a job that was not fixed', back('B3', 'B1', 15, 9000), { from: 2, meanMinor: 4000 }],
		['one of a job that nobody knows', back('B3', 'Z9', 5, 9000), { from: 2, meanMinor: 4000 }]
	])('%s', (_, visit, told) => {
		const reserve = reserveAt([...past, visit, fixed('C', 99.999)], 100, 30);
		expect(reserve).toMatchObject({ from: told.from });
		expect(reserve.meanMinor).toBeCloseTo(told.meanMinor ?? NaN, 9);
		expect(reserve.comebacks).toBeCloseTo(told.from === 3 ? 0.3 : 0.2, 9);
	});
});
