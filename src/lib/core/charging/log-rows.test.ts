import { describe, expect, it } from 'vitest';
import { interpretLog } from './interpret-log';
import type { ColumnRole, LogColumn, Unit } from './log-columns';
import type { LogDialect } from './log-dialect';
import { logReader, traceToCsv, type ReadLog } from './log-rows';

const column = (name: string, role: ColumnRole, unit: Unit | null, said = true): LogColumn => ({
	name,
	role,
	unit,
	said
});
const dialect = (unit: Unit | null, more: Partial<LogDialect> = {}): LogDialect => ({
	delimiter: ';',
	decimal: '.',
	headerLine: 1,
	firstLine: 2,
	columns: [column('t', 'time', unit), column('U', 'volts', 'V'), column('I', 'amps', 'A')],
	secondsPerRow: 1,
	...more
});
/** Rows of cells from line 2 on. */
function read(of: LogDialect, rows: readonly (readonly string[])[]): ReadLog {
	const reader = logReader(of);
	rows.forEach((cells, i) => expect(reader.take(cells, i + 2)).toBe(true));
	return reader.finish();
}
const times = (unit: Unit, stamps: readonly string[], decimal: '.' | ',' = '.') => {
	const { trace, rejected } = read(
		dialect(unit, { decimal }),
		stamps.map((stamp) => [stamp, '5', '1'])
	);
	return { seconds: [...trace.seconds], refused: rejected.map(({ line }) => line) };
};

describe('times of rows', () => {
	it.each<[string, Unit, string[], number[]]>([
		['seconds', 's', ['10', '10.5', '12'], [0, 0.5, 2]],
		['seconds with their unit', 's', ['10 s', ' 11 sec ', '12'], [0, 1, 2]],
		['milliseconds', 'ms', ['100', '600 ms'], [0, 0.5]],
		['microseconds', 'us', ['0', '500000 µs'], [0, 0.5]],
		['minutes', 'min', ['1', '1.5 min'], [0, 30]],
		['a clock', 'clock', ['23:59:58', '23:59:59.25', '23:59:59,5'], [0, 1.25, 1.5]],
		['a clock over midnight', 'clock', ['23:59:58', '00:00:01', '12:00:00'], [0, 3, 43_202]],
		[
			'a clock over two midnights',
			'clock',
			['23:00:00', '01:00:00', '13:00:00', '00:30:00'],
			[0, 7200, 50_400, 91_800]
		],
		['twelve hours', 'clock', ['11:59:58 am', '12:00:01 pm', '1:00:00 p.m.'], [0, 3, 3602]],
		['twelve hours over midnight', 'clock', ['11:59:58 PM', '12:00:01 AM', '1:00:01 am'], [0, 3, 3603]],
		['minutes and seconds', 'clock', ['59:58', '60:01', '125:00'], [0, 3, 3902]],
		['days of the year first', 'date', ['2026-03-02 10:00:00', '2026-03-02T10:00:01.5'], [0, 1.5]],
		['days first with dots', 'date', ['28.02.2026 23:59:59', '01.03.2026 00:00:00'], [0, 1]],
		['days first with hyphens', 'date', ['28-02-2026 23:59:59', '01-03-2026 00:00:00'], [0, 1]],
		['slashes, month first', 'date', ['02/28/2026 23:59:59', '03/01/2026 00:00:00'], [0, 1]],
		['slashes, no month over twelve', 'date', ['28/02/2026 23:59:59', '28/02/2026, 23:59:59,5'], [0, 0.5]],
		['slashes, the twelfth month', 'date', ['12/31/2026 23:59:59', '01/01/2027 00:00:00'], [0, 1]],
		['a day alone', 'date', ['2026-03-02', '2026-03-03'], [0, 86_400]],
		['hours and minutes', 'date', ['2026-03-02 10:00', '2026-03-02 10:01'], [0, 60]],
		['a zone', 'date', ['2026-03-02T10:00:00+02:00', '2026-03-02T08:00:01Z'], [0, 1]],
		['a zone west, without a colon', 'date', ['2026-03-02T10:00:00-0530', '2026-03-02T15:30:01Z'], [0, 1]],
		['a leap day', 'date', ['2028-02-28 00:00', '2028-03-01 00:00'], [0, 172_800]]
	])('%s', (_, unit, stamps, seconds) => expect(times(unit, stamps)).toEqual({ seconds, refused: [] }));
	it('a decimal comma', () => expect(times('s', ['0,5', '1,75'], ',').seconds).toEqual([0, 1.25]));
	it.each<[string, Unit, string]>([
		['words', 's', 'later'],
		['nothing', 's', ' '],
		['a second too many', 'clock', '10:00:60'],
		['a minute too many', 'clock', '10:60:00'],
		['a clock with words before', 'clock', 'at 10:00:01'],
		['a clock with words behind', 'clock', '10:00:01 sharp'],
		['no month', 'date', '2026-00-02 10:00'],
		['a thirteenth month', 'date', '2026-13-02 10:00'],
		['no day', 'date', '2026-03-00 10:00'],
		['a day too many', 'date', '2026-03-32 10:00'],
		['an hour too many', 'date', '2026-03-02 24:00'],
		['two signs', 'date', '2026-03/02'],
		['words before a date', 'date', 'on 2026-03-02'],
		['words behind a date', 'date', '2026-03-02 10:00 sharp']
	])('%s is no time, and the rows around it stay', (_, unit, odd) => {
		const usual: Record<string, string[]> = {
			s: ['1', '2'],
			clock: ['10:00:00', '10:00:01'],
			date: ['2026-01-02 10:00:00', '2026-01-02 10:00:01']
		};
		const [one, two] = usual[unit] as [string, string];
		expect(times(unit, [one, odd, two])).toEqual({ seconds: [0, 1], refused: [3] });
	});
	it('the last minute, hour, day and month are times', () => {
		expect(times('clock', ['10:59:59', '11:00:00']).seconds).toEqual([0, 1]);
		expect(times('date', ['2026-12-31 23:59', '2027-01-01 00:00']).seconds).toEqual([0, 60]);
		expect(times('date', ['2026-01-01 00:00', '2026-01-01 23:59']).refused).toEqual([]);
	});
	it('a row before the one above it is refused, one at the same moment stays', () => {
		expect(times('s', ['5', '6', '4', '6', '7'])).toEqual({ seconds: [0, 1, 1, 2], refused: [4] });
	});
	it('without a column of times, rows are counted at their pace', () => {
		const of = dialect(null, {
			secondsPerRow: 0.5,
			columns: [column('U', 'volts', 'V'), column('I', 'amps', 'A')]
		});
		const { trace } = read(of, [
			['5', '1'],
			['x', '1'],
			['5', '1'],
			['5', '1']
		]);
		expect([...trace.seconds]).toEqual([0, 0.5, 1]);
	});
});

describe('values of rows', () => {
	it.each<[string, Unit, string, number]>([
		['plain', 'A', '0.25', 0.25],
		['milliamperes', 'mA', ' 250 ', 0.25],
		['microamperes', 'uA', '250', 0.000_25],
		['a unit behind', 'mA', '0.25 A', 0.25],
		['another unit behind', 'A', '250mA', 0.25],
		['with µ', 'A', '250 µA', 0.000_25],
		['with u', 'A', ' 250. uA ', 0.000_25]
	])('%s', (_, unit, cell, amps) => {
		const of = dialect('s', {
			columns: [column('t', 'time', 's'), column('U', 'volts', 'V'), column('I', 'amps', unit)]
		});
		expect(read(of, [['0', '5', cell]]).trace.amps[0]).toBeCloseTo(amps, 12);
	});
	it('volts in their units', () => {
		const of = dialect('s', {
			columns: [column('t', 'time', 's'), column('U', 'volts', 'mV'), column('I', 'amps', 'A')]
		});
		const { trace } = read(of, [
			['0', '5080', '1'],
			['1', '5.08 V', '1'],
			['2', '5080 mV', '1']
		]);
		expect([...trace.volts].map((volts) => volts.toFixed(6))).toEqual(['5.080000', '5.080000', '5.080000']);
	});
	it('what is no value is refused with its column, its cell and its line', () => {
		const { rejected, rejectedCount } = read(dialect('s'), [
			['0', '5', '1'],
			['1', 'x', '1'],
			['2', '5', '1 mB'],
			['3', '5'],
			['4', '5', '"1'],
			['5', '5', `${'9'.repeat(81)}`],
			['', '', ''],
			['# a remark', '', ''],
			['6', '5', 'above 5 A'],
			['7', '5', '5 A above']
		]);
		expect(rejected).toEqual([
			{ line: 3, message: 'U is "x", no number' },
			{ line: 4, message: 'I is "1 mB", no number' },
			{ line: 5, message: 'has 2 of 3 columns' },
			{ line: 6, message: 'has a quote that is not closed, at "\\"1"; take it out' },
			{ line: 7, message: `I is "${'9'.repeat(40)}"…, too long for a value` },
			{ line: 10, message: 'I is "above 5 A", no number' },
			{ line: 11, message: 'I is "5 A above", no number' }
		]);
		expect(rejectedCount).toBe(7);
	});
	it('eighty signs are a value still', () => {
		const cell = `0.${'1'.repeat(78)}`;
		expect(read(dialect('s'), [['0', '5', cell]]).rejected).toEqual([]);
		expect(read(dialect('s'), [['0', '5', `${cell}1`]]).rejected).toHaveLength(1);
	});
	it('what stands before the first row of data is no row', () => {
		const reader = logReader(dialect('s', { firstLine: 4 }));
		for (const line of [1, 2, 3, 4]) reader.take([`${line}`, '5', '1'], line);
		expect(reader.rows()).toBe(1);
	});
	it('a current that is negative on the whole is turned, all of it; else none', () => {
		const amps = (...some: string[]) => {
			const { trace, turned } = read(
				dialect('s'),
				some.map((each, i) => [`${i}`, '5', each])
			);
			return { amps: [...trace.amps], turned };
		};
		expect(amps('-1', '-2', '0.5')).toEqual({ amps: [1, 2, -0.5], turned: true });
		expect(amps('-1', '2')).toEqual({ amps: [-1, 2], turned: false });
		expect(amps('-1', '1')).toEqual({ amps: [-1, 1], turned: false });
	});
	it('ten thousand refused rows are listed, more are counted', () => {
		const reader = logReader(dialect('s'));
		for (let i = 0; i < 10_002; i++) reader.take(['x', '5', '1'], i + 2);
		const { rejected, rejectedCount } = reader.finish();
		expect([rejected.length, rejectedCount, rejected.at(-1)?.line]).toEqual([10_000, 10_002, 10_001]);
	});
	it('grows with its rows and keeps them', () => {
		const { trace } = read(
			dialect('s'),
			Array.from({ length: 3000 }, (_, i) => [`${i}`, `${5 + i / 1e6}`, `${i}`])
		);
		expect([trace.amps.length, trace.amps[1023], trace.amps[1024], trace.amps[2999]]).toEqual([
			3000, 1023, 1024, 2999
		]);
		expect(trace.volts[2500]).toBe(5.0025);
	});
	it('is written as CSV to the microunit, with its units', () => {
		const trace = {
			seconds: Float64Array.of(0, 0.1 + 0.2),
			volts: Float64Array.of(5, 5.123_456_7),
			amps: Float64Array.of(0, 1)
		};
		expect(traceToCsv(trace)).toBe('time [s],voltage [V],current [A]\r\n0,5,0\r\n0.3,5.123457,1\r\n');
	});
});

describe('what a log shows', () => {
	const log = read(dialect('s'), [
		['0', '5', '-1'],
		['1', 'x', '-1'],
		['2', '5', '-1']
	]);
	it('names its columns, counts its rows, and says what was taken for granted', () => {
		const shown = interpretLog(dialect('s'), log, null);
		expect(shown.columns).toEqual({ time: 't', volts: 'U', amps: 'I' });
		expect(shown.rows).toEqual({
			read: 2,
			rejected: [{ line: 3, message: 'U is "x", no number' }],
			rejectedCount: 1
		});
		expect(shown.assumed).toEqual(['the current was negative: its sign is turned']);
		expect(shown.chargeMah).toBeCloseTo(2 / 3.6, 9);
	});
	it('says which units it guessed, and that no column was a time', () => {
		const guessed = dialect(null, {
			secondsPerRow: 2,
			columns: [
				column('a', 'volts', 'V', false),
				column('b', 'amps', 'mA', false),
				column('c', 'other', null, false),
				column('d', 'other', null)
			]
		});
		const plain = read(guessed, [
			['5', '100', 'x', 'y'],
			['5', '100', 'x', 'y']
		]);
		const shown = interpretLog(guessed, plain, null);
		expect(shown.columns).toEqual({ time: null, volts: 'a', amps: 'b' });
		expect(shown.assumed).toEqual([
			'a is in V: the log does not say so',
			'b is in mA: the log does not say so',
			'no column is a time: one row every 2 s'
		]);
	});
});
