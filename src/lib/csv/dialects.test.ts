import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { detectDialect } from '../core/charging/log-dialect';
import { interpretLog } from '../core/charging/interpret-log';
import { logReader, traceToCsv } from '../core/charging/log-rows';
import type { Trace } from '../core/charging/trace-phases';
import { readLogText } from './read-log';
import { splitLine } from './split-line';

/** Reads a log as screens and server do. */
function read(text: string) {
	const read = readLogText(text);
	if (!read.ok) throw new Error(read.message);
	return read;
}
const rows = [
	[0, 5.08, 0.061],
	[0.5, 5.07, 0.062],
	[1, 5.08, 0.06],
	[1.5, 5.06, 0.45]
] as const;
const lines = (join: string, write: (row: readonly number[]) => string[]) =>
	rows.map((row) => write(row).join(join));
const comma = (value: number) => String(value).replace('.', ',');
const clockSeconds = (s: number) => s.toFixed(1).padStart(4, '0');
const clock = (s: number) => `23:59:${(59 + s - 1).toFixed(3).padStart(6, '0')}`;

describe('dialects of meter logs', () => {
	it.each<[string, string]>([
		['plain', ['time,voltage,current', ...lines(',', (r) => r.map(String))].join('\n')],
		[
			'units in brackets, milliamperes and milliseconds',
			[
				't [ms],U [V],I [mA]',
				...lines(',', ([t, v, a]) => [`${(t as number) * 1000}`, `${v}`, `${(a as number) * 1000}`])
			].join('\n')
		],
		['units after a slash', ['t/s;U/V;I/A', ...lines(';', (r) => r.map(String))].join('\n')],
		[
			'semicolon and decimal comma, byte-order mark, CRLF',
			`\ufeff${['Zeit (s);Spannung (V);Strom (A)', ...lines(';', (r) => r.map(comma))].join('\r\n')}\r\n`
		],
		['tab and decimal comma', ['Time\tVolts\tAmps', ...lines('\t', (r) => r.map(comma))].join('\n')],
		[
			'millivolts in the name',
			[
				'elapsed_ms,bus_mV,current_mA',
				...lines(',', ([t, v, a]) => [
					`${(t as number) * 1000}`,
					`${Math.round((v as number) * 1000)}`,
					`${(a as number) * 1000}`
				])
			].join('\n')
		],
		[
			'comment lines and a preamble',
			[
				'# meter 7',
				'Device: bench',
				'',
				'Time(s),Voltage(V),Current(A),Power(W)',
				...lines(',', ([t, v, a]) => [`${t}`, `${v}`, `${a}`, '0.3']),
				'# end'
			].join('\n')
		],
		[
			'a commented header',
			[
				'# time volts amps'.replaceAll(' ', ',').replace('#,', '# '),
				...lines(',', (r) => r.map(String))
			].join('\n')
		],
		['a row of units', ['Time,Voltage,Current', 's,V,A', ...lines(',', (r) => r.map(String))].join('\n')],
		['quoted cells', ['"Time","Voltage","Current"', ...lines(',', (r) => r.map((v) => `"${v}"`))].join('\n')],
		[
			'quoted decimal commas',
			['"Time (s)","Voltage (V)","Current (A)"', ...lines(',', (r) => r.map((v) => `"${comma(v)}"`))].join(
				'\n'
			)
		],
		[
			'units behind the values',
			[
				'time,voltage,current',
				...lines(',', ([t, v, a]) => [`${t}s`, `${v}V`, `${(a as number) * 1000}mA`])
			].join('\n')
		],
		[
			'ISO times and extra columns',
			[
				'No,Timestamp,VBUS (V),IBUS (A),D+ (V),Energy (Wh)',
				...lines(',', ([t, v, a]) => [
					'1',
					`2026-03-02T10:00:0${(t as number).toFixed(3)}Z`,
					`${v}`,
					`${a}`,
					'2.7',
					'0.1'
				])
			].join('\n')
		],
		[
			'day, clock and decimal comma',
			[
				'Datum;Spannung [V];Strom [A]',
				...lines(';', ([t, v, a]) => [
					`02.03.2026 10:00:0${comma(Number((t as number).toFixed(1)))}`,
					comma(v as number),
					comma(a as number)
				])
			].join('\n')
		],
		[
			'a clock over midnight',
			[
				'Time,Voltage,Current',
				...lines(',', ([t, v, a]) => [
					(t as number) < 1 ? clock(t as number) : `00:00:0${((t as number) - 1).toFixed(3)}`,
					`${v}`,
					`${a}`
				]).map((line) => line.replace('23:59:58', '23:59:59'))
			].join('\n')
		],
		[
			'epoch milliseconds',
			[
				'timestamp,voltage,current',
				...lines(',', ([t, v, a]) => [`${1772445600000 + (t as number) * 1000}`, `${v}`, `${a}`])
			].join('\n')
		],
		['no header at all', lines(',', (r) => r.map(String)).join('\n')]
	])('%s', (name, text) => {
		const { log } = read(text);
		expect(log.rejected).toEqual([]);
		expect([...log.trace.volts]).toEqual(rows.map(([, v]) => expect.closeTo(v, 9)));
		expect([...log.trace.amps]).toEqual(rows.map(([, , a]) => expect.closeTo(a, 9)));
		if (name !== 'a clock over midnight') {
			expect([...log.trace.seconds]).toEqual(rows.map(([t]) => expect.closeTo(t, 3)));
		} else expect(log.trace.seconds[3]).toBeLessThan(3);
	});
	it.each<[string, string, (t: number) => string]>([
		['a day and a clock in two columns', 'Date,Time,V,A', (t) => `2026-03-02,10:00:${clockSeconds(t)}`],
		['minutes and seconds', 'Elapsed,Volt,Ampere', (t) => `00:${clockSeconds(t)}`],
		['a twelve-hour clock', 'Time,Voltage,Charge current (A)', (t) => `12:59:${clockSeconds(t)} PM`],
		['French', 'Temps (s),Tension (V),Courant (A)', String],
		['a column of counts before it', 'Sample,Time [s],U [V],I [A]', (t) => `7,${t}`]
	])('%s', (_, header, time) => {
		const { log } = read([header, ...rows.map(([t, v, a]) => `${time(t)},${v},${a}`)].join('\n'));
		expect(log.rejected).toEqual([]);
		expect([...log.trace.seconds]).toEqual(rows.map(([t]) => expect.closeTo(t, 6)));
		expect([...log.trace.amps]).toEqual(rows.map(([, , a]) => expect.closeTo(a, 9)));
	});
	it('a column named by its unit alone is in it', () => {
		const { dialect } = read(['ms,V,mA', '0,5.1,4', '100,5.1,5', '200,5.1,4'].join('\n'));
		expect(dialect.columns.map(({ role, unit, said }) => [role, unit, said])).toEqual([
			['time', 'ms', true],
			['volts', 'V', true],
			['amps', 'mA', true]
		]);
	});
	it('says which units it guessed', () => {
		const { dialect } = read(
			['time,voltage,current', '0,5080,450', '100,5080,451', '200,5079,449'].join('\n')
		);
		expect(dialect.columns.map(({ unit, said }) => [unit, said])).toEqual([
			['ms', false],
			['mV', false],
			['mA', false]
		]);
	});
	it('counts rows where there is no time', () => {
		const { dialect, log } = read(['voltage,current', '5.1,0.4', '5.1,0.5', '5.1,0.4'].join('\n'));
		expect([...log.trace.seconds]).toEqual([0, 1, 2]);
		expect(interpretLog(dialect, log, null).assumed.join()).toContain('one row every 1 s');
	});
	it('turns a current that counts a charge as negative', () => {
		const { log } = read(['time,voltage,current', '0,5.1,-0.4', '1,5.1,-0.5', '2,5.1,-0.4'].join('\n'));
		expect(log.turned).toBe(true);
		expect(log.trace.amps[1]).toBeCloseTo(0.5, 9);
	});
	it('lists rows that it cannot read, with line and why', () => {
		const { log } = read(
			[
				'time,voltage,current',
				'0,5.1,0.4',
				'1,oops,0.4',
				'',
				'2,5.1',
				'3,5.1,0.4',
				'1,5.1,0.4',
				'4,5.1,'
			].join('\n')
		);
		expect(log.trace.seconds.length).toBe(2);
		expect(log.rejected).toEqual([
			{ line: 3, message: 'voltage is "oops", no number' },
			{ line: 5, message: 'has 2 of 3 columns' },
			{ line: 7, message: 'time is "1", before the row above it' },
			{ line: 8, message: 'current is "", no number' }
		]);
	});
	it.each([
		['', 'no rows'],
		['# nothing but words', 'no rows'],
		['once upon a time', 'no delimiter'],
		['time,temperature\n0,21\n1,22', 'no column']
	])('refuses %j with a way out', (text, words) => {
		const found = detectDialect(text, splitLine);
		expect(found.ok ? '' : found.message).toContain(words);
	});
	it('never throws and never loses a row, whatever is thrown at it', () => {
		const cell = fc.oneof(
			fc.double({ noNaN: true }).map(String),
			fc.string({ maxLength: 8 }),
			fc.constantFrom('', '5,1', '1e3', 'NaN', '"', '12:00:01')
		);
		fc.assert(
			fc.property(
				fc.array(fc.array(cell, { minLength: 1, maxLength: 5 }), { maxLength: 12 }),
				fc.constantFrom(',', ';', '\t'),
				(table, delimiter) => {
					const body = table.map((cells) => cells.join(delimiter).replace(/[\r\n]/g, ' '));
					const text =
						['time [s]', 'U [V]', 'I [A]'].join(delimiter) +
						'\n' +
						['0', '5.1', '0.4'].join(delimiter) +
						'\n' +
						['1', '5.1', '0.4'].join(delimiter) +
						'\n' +
						body.join('\n');
					const found = detectDialect(text, splitLine);
					if (!found.ok) return;
					const reader = logReader(found.dialect);
					const all = text.split('\n').map((line) => splitLine(line, found.dialect.delimiter));
					all.forEach((cells, i) => expect(reader.take(cells, i + 1)).toBe(true));
					const { rejectedCount, trace } = reader.finish();
					const blank = all.filter(
						(cells, i) =>
							i + 1 >= found.dialect.firstLine &&
							(cells.every((c) => c.trim() === '') || /^\s*("?#|\/\/|%)/.test(cells[0] ?? ''))
					).length;
					expect(trace.seconds.length + rejectedCount + blank).toBe(all.length - found.dialect.firstLine + 1);
					expect([...trace.seconds, ...trace.volts, ...trace.amps].every(Number.isFinite)).toBe(true);
				}
			),
			{ numRuns: 300 }
		);
	});
	it('writes a trace as CSV that it reads again as it was', () => {
		fc.assert(
			fc.property(
				fc.array(
					fc.tuple(
						fc.integer({ min: 1, max: 5000 }),
						fc.integer({ min: 4000, max: 20_000 }),
						fc.integer({ min: 0, max: 3000 })
					),
					{ minLength: 3, maxLength: 40 }
				),
				(steps) => {
					let t = 0;
					const trace: Trace = {
						seconds: Float64Array.from(steps, ([step]) => (t += step) / 1000).map(
							(s, _, all) => s - (all[0] as number)
						),
						volts: Float64Array.from(steps, ([, v]) => v / 1000),
						amps: Float64Array.from(steps, ([, , a]) => a / 1000)
					};
					const { log } = read(traceToCsv(trace));
					for (const key of ['seconds', 'volts', 'amps'] as const) {
						expect([...log.trace[key]]).toEqual([...trace[key]].map((value) => expect.closeTo(value, 6)));
					}
				}
			)
		);
	});
});
