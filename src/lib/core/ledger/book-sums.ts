import type { Minor } from '../units/money';

export interface Booked {
	model: string;
	closedAt: number;
	paidMinor: Minor;
	partsMinor: Minor;
	labourMinor: Minor;
	minutes: number;
	profitMinor: Minor;
}

export interface BookSum {
	key: string;
	tickets: number;
	paidMinor: Minor;
	partsMinor: Minor;
	labourMinor: Minor;
	minutes: number;
	profitMinor: Minor;
	/** profit per hands-on hour; null without minutes */
	profitPerHourMinor: number | null;
}

/** Sums lines under a key, in the order in which the keys first appear. */
export function sumBooks<Line extends Booked>(
	lines: readonly Line[],
	keyOf: (line: Line) => string
): BookSum[] {
	const sums = new Map<string, BookSum>();
	for (const line of lines) {
		const key = keyOf(line);
		const sum = sums.get(key) ?? {
			key,
			tickets: 0,
			paidMinor: 0,
			partsMinor: 0,
			labourMinor: 0,
			minutes: 0,
			profitMinor: 0,
			profitPerHourMinor: null
		};
		sum.tickets += 1;
		sum.paidMinor += line.paidMinor;
		sum.partsMinor += line.partsMinor;
		sum.labourMinor += line.labourMinor;
		sum.minutes += line.minutes;
		sum.profitMinor += line.profitMinor;
		sums.set(key, sum);
	}
	return [...sums.values()].map((sum) => ({
		...sum,
		profitPerHourMinor: sum.minutes > 0 ? (sum.profitMinor * 60) / sum.minutes : null
	}));
}

/** A function that names the month of a moment in a time zone, as "2026-03". */
export function monthKeys(timeZone: string): (at: number) => string {
	const format = new Intl.DateTimeFormat('en-CA', { timeZone, year: 'numeric', month: '2-digit' });
	return (at) => {
		const found = new Map(format.formatToParts(at).map(({ type, value }) => [type, value]));
		return `${found.get('year')}-${found.get('month')}`;
	};
}
