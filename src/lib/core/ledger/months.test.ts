import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
	figuresOfRecord,
	monthAfter,
	monthRows,
	monthStart,
	monthToClose,
	recordOfFigures,
	type MonthFigures
} from './months';

const figures = (profitMinor: number, tickets = 1): MonthFigures => ({
	tickets,
	paidMinor: profitMinor,
	taxMinor: 0,
	partsMinor: 0,
	labourMinor: 0,
	minutes: 0,
	profitMinor
});

describe('months and their closing', () => {
	it('what changes of a closed month falls into the first open one', () => {
		const rows = monthRows(
			new Map([
				['2026-01', figures(90, 2)],
				['2026-02', figures(50)],
				['2026-03', figures(10)]
			]),
			new Map([['2026-01', figures(100)]])
		);
		expect(
			rows.map(({ month, closed, profitMinor, tickets }) => [month, closed, profitMinor, tickets])
		).toEqual([
			['2026-01', true, 100, 1],
			['2026-02', false, 40, 2],
			['2026-03', false, 10, 1]
		]);
		expect(rows[1]?.corrected).toMatchObject({ profitMinor: -10, tickets: 1 });
		expect([rows[0]?.corrected, rows[2]?.corrected]).toEqual([null, null]);
	});
	it('a month before the last closed one counts as closed: what comes into it later is a correction', () => {
		const rows = monthRows(
			new Map([
				['2025-12', figures(7)],
				['2026-01', figures(100)]
			]),
			new Map([['2026-01', figures(100)]])
		);
		expect(rows.map(({ month, profitMinor }) => [month, profitMinor])).toEqual([
			['2026-01', 100],
			['2026-02', 7]
		]);
	});
	it('a closed month whose tickets are gone stays', () =>
		expect(
			monthRows(new Map(), new Map([['2026-12', figures(5)]])).map(({ month, profitMinor }) => [
				month,
				profitMinor
			])
		).toEqual([
			['2026-12', 5],
			['2027-01', -5]
		]));
	it('the sum over months is that of all tickets, whatever is closed and however it changed', () => {
		const month = fc.constantFrom('2025-11', '2025-12', '2026-01', '2026-02', '2026-03');
		const of = fc.dictionary(month, fc.integer({ min: -999, max: 999 }));
		fc.assert(
			fc.property(of, of, (computed, closed) => {
				const mapped = (each: Record<string, number>) =>
					new Map(Object.entries(each).map(([key, profit]) => [key, figures(profit)]));
				const rows = monthRows(mapped(computed), mapped(closed));
				const sum = (values: number[]) => values.reduce((a, b) => a + b, 0);
				expect(sum(rows.map(({ profitMinor }) => profitMinor))).toBe(sum(Object.values(computed)));
				for (const row of rows.filter(({ closed: is }) => is))
					expect(row.profitMinor).toBe(closed[row.month]);
				expect(rows.map(({ month: at }) => at)).toEqual([...rows.map(({ month: at }) => at)].sort());
			})
		);
	});
	it('only a month that is over is closed, the first open one', () => {
		const rows = monthRows(
			new Map([
				['2026-01', figures(1)],
				['2026-02', figures(2)],
				['2026-03', figures(3)]
			]),
			new Map([['2026-01', figures(1)]])
		);
		expect(monthToClose(rows, '2026-03')?.month).toBe('2026-02');
		expect(monthToClose(rows, '2026-02')).toBeNull();
	});
	it('records hold what they were written from', () => {
		const some = { ...figures(-1234, 3), taxMinor: 5, partsMinor: 6, labourMinor: 7, minutes: 12.5 };
		const record = {
			record: 'month' as const,
			month: '2026-01',
			closed_at: '2026-02-01T00:00:00Z',
			...recordOfFigures(some)
		};
		expect(figuresOfRecord(record)).toEqual(some);
	});
	it('the month after, and when one begins by the shop’s clock', () => {
		expect([monthAfter('2026-12'), monthAfter('2026-09')]).toEqual(['2027-01', '2026-10']);
		expect(monthStart('2026-07', 'Europe/Berlin')).toBe(Date.UTC(2026, 5, 30, 22));
	});
});
