import { describe, expect, it } from 'vitest';
import { DAY_MS } from '../units/instant';
import { warrantyReserve, type Warranted } from './warranty-reserve';

const fixed = (number: string, closedDay: number, more: Partial<Warranted> = {}): Warranted => ({
	number,
	comebackOf: null,
	outcome: 'fixed',
	openedAt: (closedDay - 1) * DAY_MS,
	closedAt: closedDay * DAY_MS,
	costMinor: 0,
	...more
});
const back = (number: string, of: string, openedDay: number, costMinor: number) =>
	fixed(number, openedDay + 1, {
		comebackOf: of,
		openedAt: openedDay * DAY_MS,
		outcome: 'not-fixed',
		costMinor
	});

describe('reserve for warranty', () => {
	// ten were fixed on day 0, two of them came back after 10 and 20 days, at 3000 and 5000
	const past = [
		...Array.from({ length: 10 }, (_, i) => fixed(`A${i}`, 0)),
		back('B1', 'A1', 10, 3000),
		back('B2', 'A2', 20, 5000)
	];
	it('by hand: one that was just fixed comes back with .2 within 30 days, at 4000', () => {
		const reserve = warrantyReserve([...past, fixed('C', 99.999)], 100 * DAY_MS, 30);
		expect(reserve).toMatchObject({ underWarranty: 1, from: 2 });
		expect(reserve.comebacks).toBeCloseTo(0.2, 9);
		expect(reserve.expectedMinor).toBe(800);
		// compound Poisson: .2 · (3000² + 5000²) / 2
		expect(reserve.highMinor).toBe(Math.round(800 + 1.2816 * Math.sqrt(0.2 * 17e6)));
		expect(reserve.lowMinor).toBe(0);
	});
	it('one that has held for 15 days comes back with (.9 - .8) / .9', () =>
		expect(warrantyReserve([...past, fixed('C', 85)], 100 * DAY_MS, 30).comebacks).toBeCloseTo(
			// the eleventh is followed for 15 days only: survival is 10/11 · 8/9 at the end, 10/11 at 15
			1 - ((10 / 11) * (1 - 1 / 9)) / (10 / 11),
			9
		));
	it('nothing under warranty, nothing to set aside; what came back already is not counted again', () => {
		expect(warrantyReserve(past, 100 * DAY_MS, 30).expectedMinor).toBe(0);
		expect(warrantyReserve(past, 25 * DAY_MS, 30).underWarranty).toBe(8);
		expect(warrantyReserve([], 0, 90)).toMatchObject({ expectedMinor: 0, highMinor: 0, from: 0 });
	});
	it('what is not known yet at the moment is not looked at', () =>
		expect(warrantyReserve(past, 15 * DAY_MS, 30)).toMatchObject({ from: 1, underWarranty: 9 }));
});
