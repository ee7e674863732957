import type { BookSum } from './book-lines';
import { momentOn } from '../units/calendar';
import type { Instant } from '../units/instant';
import { fromMinor, toMinor } from '../units/money';
import type { CatalogRecordOf } from '../catalog/kinds';

/** The figures that a month is closed with. */
export type MonthFigures = Omit<BookSum, 'jobs' | 'profitSquares' | 'quoted'>;
const FIGURES = [
	'tickets',
	'paidMinor',
	'taxMinor',
	'partsMinor',
	'labourMinor',
	'minutes',
	'profitMinor'
] as const;

const combine = (a: MonthFigures, b: MonthFigures, sign: 1 | -1): MonthFigures =>
	Object.fromEntries(FIGURES.map((key) => [key, a[key] + sign * b[key]])) as unknown as MonthFigures;
const NONE: MonthFigures = {
	tickets: 0,
	paidMinor: 0,
	taxMinor: 0,
	partsMinor: 0,
	labourMinor: 0,
	minutes: 0,
	profitMinor: 0
};

export interface MonthRow extends MonthFigures {
	month: string;
	closed: boolean;
	/** what changed of closed months since: it falls into the first open one and is part of its figures */
	corrected: MonthFigures | null;
}

/**
 * Months in the order of time. What was closed keeps the figures that it was closed with; what tickets of closed months say
 * otherwise since falls into the first open month. The sum over all months is that of all tickets, whatever is closed.
 * @param computed what tickets say today, by the month of their closing
 * @param closed figures of closed months; what lies before the last of them is closed as well
 */
export function monthRows(
	computed: ReadonlyMap<string, MonthFigures>,
	closed: ReadonlyMap<string, MonthFigures>
): MonthRow[] {
	const last = [...closed.keys()].sort().at(-1) ?? '';
	let drift = NONE;
	for (const [month, figures] of computed) if (month <= last) drift = combine(drift, figures, 1);
	for (const figures of closed.values()) drift = combine(drift, figures, -1);
	const settled = [...closed].map(([month, figures]) => ({
		month,
		...combine(figures, NONE, 1),
		closed: true,
		corrected: null
	}));
	const moved = FIGURES.some((key) => Math.abs(drift[key]) > 1e-6);
	const open = new Map([...computed].filter(([month]) => month > last));
	if (moved && open.size === 0) open.set(monthAfter(last), NONE);
	const rows = [...open]
		.sort(([a], [b]) => (a < b ? -1 : 1))
		.map(([month, figures], i): MonthRow => {
			const corrected = i === 0 && moved ? drift : null;
			return { month, ...combine(figures, corrected ?? NONE, 1), closed: false, corrected };
		});
	return [...settled, ...rows].sort((a, b) => (a.month < b.month ? -1 : 1));
}

/** The figures of a closed month's record. */
export const figuresOfRecord = (record: CatalogRecordOf<'month'>): MonthFigures => ({
	tickets: record.tickets,
	minutes: record.minutes,
	paidMinor: toMinor(record.paid),
	taxMinor: toMinor(record.tax),
	partsMinor: toMinor(record.parts),
	labourMinor: toMinor(record.labour),
	profitMinor: toMinor(record.profit)
});

/** The same, written. */
export const recordOfFigures = ({
	tickets,
	minutes,
	paidMinor,
	taxMinor,
	partsMinor,
	labourMinor,
	profitMinor
}: MonthFigures) => ({
	tickets,
	minutes: Math.round(minutes * 100) / 100,
	paid: fromMinor(paidMinor),
	tax: fromMinor(taxMinor),
	parts: fromMinor(partsMinor),
	labour: fromMinor(labourMinor),
	profit: fromMinor(profitMinor)
});

/** @example monthAfter('2026-12') // '2027-01' */
export function monthAfter(month: string): string {
	const [year, number] = month.split('-').map(Number) as [number, number];
	return number === 12 ? `${year + 1}-01` : `${year}-${String(number + 1).padStart(2, '0')}`;
}

/** The first open month that is over, which may be closed now; null where there is none. */
export const monthToClose = (rows: readonly MonthRow[], thisMonth: string): MonthRow | null =>
	rows.find(({ closed, month }) => !closed && month < thisMonth) ?? null;

/** When a month begins, in the shop's time; the next month's beginning is its end. */
export function monthStart(month: string, timeZone: string): Instant {
	const [year, number] = month.split('-').map(Number) as [number, number];
	return momentOn({ year, month: number, day: 1 }, 0, timeZone);
}

/** A function that names the month of a moment in a time zone, as "2026-03". */
export function monthKeys(timeZone: string): (at: number) => string {
	const format = new Intl.DateTimeFormat('en-CA', { timeZone, year: 'numeric', month: '2-digit' });
	return (at) => {
		const found = new Map(format.formatToParts(at).map(({ type, value }) => [type, value]));
		return `${found.get('year')}-${found.get('month')}`;
	};
}
