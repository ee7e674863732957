import type { LogColumn, Unit } from './log-columns';

/** Seconds of a cell that says when; null where it says nothing of the kind. It may remember the cells before. */
export type TimeReader = (cell: string) => number | null;

const SECONDS: Partial<Record<Unit, number>> = { s: 1, ms: 1e-3, us: 1e-6, min: 60, h: 3600 };
const DAY = 86_400;

/** @param number how the log writes numbers */
export function timeReader({ unit }: LogColumn, number: TimeReader): TimeReader {
	if (unit === 'clock') return clockReader(false);
	if (unit === 'hm') return clockReader(true);
	if (unit === 'date') return dateReader();
	const factor = SECONDS[unit as Unit] ?? 1;
	return (cell) => {
		const value = number(cell.trim().replace(/\s*(ms|µs|us|s|sec|min|h)$/i, ''));
		return value === null ? null : value * factor;
	};
}

/**
 * "23:59:58.5", "11:59:58 pm", minutes and seconds alone, "59:58.5", or hours and minutes, "23:59"; far back is the next day,
 * unless the cell before jumped as far ahead: then that one was odd.
 */
function clockReader(hoursFirst: boolean): TimeReader {
	let days = 0;
	let [last, previous] = [-1, -1];
	return (cell) => {
		const match = /^(\d{1,3}):(\d{2})(?::(\d{2}))?([.,]\d+)?(?:\s*([ap])\.?m\.?)?$/i.exec(cell.trim());
		if (!match) return null;
		const [first, second, third] = [Number(match[1]), Number(match[2]), match[3]];
		const half = match[5]?.toLowerCase();
		const whole = third !== undefined || hoursFirst || half !== undefined;
		const [h, m, s] = whole ? [first, second, Number(third ?? 0)] : [0, first, second];
		if (s > 59 || (whole && m > 59)) return null;
		const hours = half === undefined ? h : (h % 12) + (half === 'p' ? 12 : 0);
		const seconds = hours * 3600 + m * 60 + s + Number((match[4] ?? '.0').replace(',', '.'));
		const oddBefore = previous >= 0 && seconds >= previous && last - previous > DAY / 4;
		// far back is the next day, a little back is a mistake
		if (last >= 0 && seconds < last - DAY / 2 && !oddBefore) days++;
		[previous, last] = [last, seconds];
		return days * DAY + seconds;
	};
}

interface Stamp {
	a: number;
	b: number;
	c: number;
	slashed: boolean;
	/** seconds of the day, its zone taken off */
	clock: number;
}

const STAMP =
	/^(\d{1,4})([-./])(\d{1,2})\2(\d{1,4})(?:[T\s,]+(\d{1,2}):(\d{2})(?::(\d{2})([.,]\d+)?)?\s*(?:([ap])\.?m\.?)?\s*(Z|[-+]\d{2}:?\d{2})?)?$/i;

function readStamp(text: string): Stamp | null {
	const match = STAMP.exec(text);
	if (!match) return null;
	const half = match[9]?.toLowerCase();
	const hour = Number(match[5] ?? 0);
	if (half !== undefined && (hour < 1 || hour > 12)) return null;
	const hours = half === undefined ? hour : (hour % 12) + (half === 'p' ? 12 : 0);
	const clock = hours * 3600 + Number(match[6] ?? 0) * 60 + Number(match[7] ?? 0);
	if (clock >= DAY) return null;
	const zone = /^([-+])(\d{2}):?(\d{2})$/.exec(match[10] ?? '');
	const offset = zone ? (zone[1] === '-' ? -1 : 1) * (Number(zone[2]) * 3600 + Number(zone[3]) * 60) : 0;
	const fraction = Number((match[8] ?? '.0').replace(',', '.'));
	const [a, b, c] = [Number(match[1]), Number(match[3]), Number(match[4])];
	return { a, b, c, slashed: match[2] === '/', clock: clock + fraction - offset };
}

type Order = 'month first' | 'day first';

/** Seconds since 1970; null where there is no such day. */
function secondsOf({ a, b, c, clock }: Stamp, order: Order): number | null {
	const [year, month, day] = a > 31 ? [a, b, c] : order === 'month first' ? [c, a, b] : [c, b, a];
	if (month < 1 || month > 12 || day < 1 || day > 31) return null;
	return Date.UTC(year, month - 1, day) / 1000 + clock;
}

/**
 * ISO, "2026-03-02 10:00:01", "02.03.2026 10:00:01", or slashes: these say by themselves which is the month where the other is
 * over 12; else the order holds under which the next day of the log is the next day; month first until then.
 */
function dateReader(): TimeReader {
	let order: Order | null = null;
	let last: { stamp: Stamp; seconds: number } | null = null;
	return (cell) => {
		const stamp = readStamp(cell.trim());
		if (!stamp) return null;
		const plain: Order = stamp.slashed && stamp.a <= 31 ? 'month first' : 'day first';
		if (stamp.slashed && stamp.a <= 31 && order === null) order = orderOf(stamp, last?.stamp ?? null);
		const rowOrder = stamp.slashed ? (order ?? plain) : plain;
		const now = secondsOf(stamp, rowOrder);
		if (now === null) return null;
		// told from the row above, so that an order that is found later moves nothing before it
		const previous = last ? secondsOf(last.stamp, last.stamp.slashed ? rowOrder : plain) : null;
		const seconds = last && previous !== null ? last.seconds + now - previous : now;
		last = { stamp, seconds };
		return seconds;
	};
}

function orderOf(stamp: Stamp, previous: Stamp | null): Order | null {
	if (stamp.a > 12) return 'day first';
	if (stamp.b > 12) return 'month first';
	if (!previous || (previous.a === stamp.a && previous.b === stamp.b && previous.c === stamp.c)) return null;
	const step = (order: Order) => (secondsOf(stamp, order) ?? NaN) - (secondsOf(previous, order) ?? NaN);
	const isNear = (seconds: number) => seconds >= 0 && seconds <= 2 * DAY;
	if (isNear(step('month first'))) return 'month first';
	return isNear(step('day first')) ? 'day first' : null;
}
