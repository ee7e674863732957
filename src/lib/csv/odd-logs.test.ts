import { describe, expect, it } from 'vitest';
import { interpretLog } from '../core/charging/interpret-log';
import { decodeLog, encodingOf } from './decode-log';
import { readLogText } from './read-log';

/** Logs as shops bring them: stamps of minutes, other languages, thousands, odd stamps, other letters. */

function read(text: string) {
	const read = readLogText(text);
	if (!read.ok) throw new Error(read.message);
	const { seconds, volts, amps } = read.log.trace;
	const { assumed } = interpretLog(read.dialect, read.log, null);
	return { ...read, seconds: [...seconds], volts: [...volts], amps: [...amps], assumed: assumed.join('; ') };
}
const refusal = (text: string) => {
	const read = readLogText(text);
	return read.ok ? null : read.message;
};
const log = (header: string, stamps: readonly string[], end = '') =>
	[header, ...stamps.map((stamp, i) => `${stamp},${(5 + i / 100).toFixed(2)},0.${4 + (i % 3)}${end}`)].join(
		'\n'
	);
const HEADER = 'Time,Voltage (V),Current (A)';

describe('stamps', () => {
	it('hours and minutes are not minutes and seconds', () => {
		const { seconds, assumed } = read(log(HEADER, ['09:58', '09:59', '10:00', '10:01']));
		expect(seconds).toEqual([0, 60, 120, 180]);
		expect(assumed).toContain('Time is in hours and minutes');
	});
	it('a day in one column and hours and minutes in another: the clock tells', () => {
		const rows = ['09:58', '09:59', '10:01'].map((clock) => `2026-03-02,${clock},5.05,0.4`);
		expect(read(['Date,Time,Voltage (V),Current (A)', ...rows].join('\n')).seconds).toEqual([0, 60, 180]);
	});
	it('several rows of one minute follow one another within it', () => {
		const { seconds } = read(log(HEADER, ['23:58', '23:58', '23:59', '23:59', '23:59', '23:59', '00:00']));
		expect(seconds).toEqual([0, 30, 60, 75, 90, 105, 120]);
	});
	it.each<[string, string, string[], number[]]>([
		['a count from nought is minutes and seconds', HEADER, ['0:00', '0:01', '0:02'], [0, 1, 2]],
		['so is more than a day has hours', HEADER, ['23:58', '23:59', '24:00'], [0, 1, 2]],
		['the name says it', 'Time (mm:ss),Voltage (V),Current (A)', ['09:58', '09:59'], [0, 1]],
		['or says the other', 'Time (hh:mm),Voltage (V),Current (A)', ['0:00', '0:01'], [0, 60]],
		['hours with decimals', 'Time [h],Voltage (V),Current (A)', ['0', '0.5', '1'], [0, 1800, 3600]],
		['hours behind the values', HEADER, ['0 h', '0.25 h'], [0, 900]],
		['twelve hours with a day', HEADER, ['03/02/2026 11:59:59 PM', '03/03/2026 12:00:01 AM'], [0, 2]],
		['noon', HEADER, ['2026-03-02 11:59:59 am', '2026-03-02 12:00:01 p.m.'], [0, 2]],
		['days first, over midnight', HEADER, ['02/03/2026 23:59:59', '03/03/2026 00:00:00'], [0, 1]],
		['months first, over midnight', HEADER, ['03/02/2026 23:59:59', '03/03/2026 00:00:00'], [0, 1]],
		['days first, over the end of a month', HEADER, ['31/01/2026 23:59:59', '01/02/2026 00:00:00'], [0, 1]],
		[
			'days first, found late',
			HEADER,
			['05/04/2026 10:00', '05/04/2026 22:00', '06/04/2026 10:00'],
			[0, 43_200, 86_400]
		],
		['no such hour in the afternoon', HEADER, ['2026-03-02 10:00:00 am', '2026-03-02 13:00:00 pm'], [0]]
	])('%s', (_, header, stamps, seconds) => {
		const found = read(log(header, stamps)).seconds;
		expect(found).toEqual(seconds.map((value) => expect.closeTo(value, 6)));
	});
	it('one stamp that jumps ahead costs its own row, not all later ones', () => {
		const { seconds, log: found } = read(log(HEADER, ['0', '1', '2', '5000', '3', '4', '5']));
		expect(seconds).toEqual([0, 1, 2, 3, 4, 5]);
		expect(found.rejected).toEqual([
			{ line: 5, message: 'Time is far ahead of, or far behind, the rows around it' }
		]);
		expect(read(log(HEADER, ['10:00:00', '22:00:00', '10:00:01', '10:00:02'])).seconds).toEqual([0, 1, 2]);
	});
	it('nor does one that falls to nought', () => {
		const { seconds, log: found, assumed } = read(log(HEADER, ['0', '1', '2', '3', '0', '4', '5']));
		expect(seconds).toEqual([0, 1, 2, 3, 4, 5]);
		expect(found.rejected.map(({ line }) => line)).toEqual([6]);
		expect(assumed).not.toContain('anew');
	});
	it('a session that begins anew goes on behind the one before, and that is said', () => {
		const { seconds, log: found, assumed } = read(log(HEADER, ['10', '12', '14', '16', '10', '12', '14']));
		expect(seconds).toEqual([0, 2, 4, 6, 8, 10, 12]);
		expect(found.rejected).toEqual([]);
		expect(assumed).toContain('the time begins anew in line 6');
	});
	it('a row a little behind is refused by itself', () => {
		const { seconds, log: found } = read(log(HEADER, ['0', '1', '2', '3', '2.5', '4']));
		expect(seconds).toEqual([0, 1, 2, 3, 4]);
		expect(found.rejected.map(({ line }) => line)).toEqual([6]);
	});
});

describe('columns', () => {
	const values = [
		[0, 5.05, 0.4],
		[1, 5.04, 0.5],
		[2, 5.06, 0.6],
		[3, 5.05, 0.45]
	] as const;
	const rowsOf = (write: (t: number, v: number, a: number) => (number | string)[], join = ',') =>
		values.map(([t, v, a]) => write(t, v, a).join(join));
	const roles = (text: string) => read(text).dialect.columns.map(({ role }) => role);
	it.each<[string, string]>([
		['Italian', 'Tempo,Tensione,Corrente,Potenza'],
		['Spanish', 'Tiempo,Tensión,Corriente,Potencia'],
		['Portuguese', 'Tempo,Tensão,Corrente,Potência'],
		['Dutch', 'Tijd,Spanning,Stroom,Vermogen'],
		['Polish', 'Czas,Napięcie,Prąd,Moc'],
		['Swedish', 'Tid,Spänning,Ström,Effekt'],
		['Finnish', 'Aika,Jännite,Virta,Teho'],
		['French', 'Temps,Tension,Courant,Puissance'],
		['nothing that is known', 'aaa,bbb,ccc,ddd']
	])('%s', (_, header) => {
		const text = [header, ...rowsOf((t, v, a) => [t, v, a, (v * a).toFixed(3)])].join('\n');
		expect(roles(text)).toEqual(['time', 'volts', 'amps', 'other']);
	});
	it('the amperes are what makes the power, wherever they stand', () => {
		const text = ['q1,q2,q3,q4', ...rowsOf((t, v, a) => [t, (v * a).toFixed(3), v, a])].join('\n');
		expect(roles(text)).toEqual(['time', 'other', 'volts', 'amps']);
	});
	it('a unit says more than a name: a temperature in seconds is a time, one in degrees is not', () => {
		expect(roles(['Temp [s],U [V],I [A]', ...rowsOf((t, v, a) => [t, v, a])].join('\n'))[0]).toBe('time');
		const warm = ['Temp [C],t [s],U [V],I [A]', ...rowsOf((t, v, a) => [25 + t, t, v, a])].join('\n');
		expect(roles(warm)).toEqual(['other', 'time', 'volts', 'amps']);
	});
	it('what is called the time and does not rise is none', () => {
		const text = ['Time,run,V,A', ...rowsOf((t, v, a) => [7, t, v, a])].join('\n');
		expect(roles(text)).toEqual(['other', 'time', 'volts', 'amps']);
	});
	it('ampere hours beside amperes are not amperes, nor is a sum of them a time', () => {
		const text = ['U (V),Q (Ah),I (A),mAh', ...rowsOf((t, v, a) => [v, t / 100 + 0.01, a, t + 1])].join('\n');
		expect(roles(text)).toEqual(['volts', 'other', 'amps', 'other']);
	});
	it('rows may end in their delimiter, with or without the header', () => {
		for (const end of ['', ';']) {
			const text = [`t [s];U [V];I [A]${end}`, ...rowsOf((t, v, a) => [t, v, `${a};`], ';')].join('\n');
			const { amps, log: found } = read(text);
			expect(amps).toEqual([0.4, 0.5, 0.6, 0.45]);
			expect(found.rejected).toEqual([]);
		}
	});
	it('thousands are set apart by the other sign', () => {
		const { amps, seconds } = read(
			['t [ms];U [V];I [mA]', '0;5,05;1.234,5', '1.000;5,04;987,25', '2.000;5,04;1.001'].join('\n')
		);
		expect(amps).toEqual([1.2345, 0.98725, 1.001].map((value) => expect.closeTo(value, 9)));
		expect(seconds).toEqual([0, 1, 2]);
		expect(read(['t [s];U [V];I [mA]', '0;5.05;1,234.5', '1;5.04;987.25'].join('\n')).amps[0]).toBeCloseTo(
			1.2345,
			9
		);
	});
	it('three decimals are not thousands', () => {
		expect(read(['t [s];U [V];I [A]', '0;5.050;1.234', '1;5.040;1.235'].join('\n')).volts[0]).toBeCloseTo(
			5.05,
			9
		);
	});
	it('a comma that is delimiter and decimal at once is asked about', () => {
		expect(refusal(['time,voltage,current', '0,0,5,05,0,4', '1,0,5,04,0,5'].join('\n'))).toContain(
			'line 2 has 6 values under 3 names'
		);
		expect(refusal(['0,5,05,0,41', '1,5,04,0,42', '2,5,06,0,05'].join('\n'))).toContain('semicolon');
		expect(refusal(['t [ms],U [mV],I [mA]', '0,5050,400', '100,5040,450'].join('\n'))).toBeNull();
	});
});

describe('letters', () => {
	const text = ['Zeit (s);Spannung (V);Strom (µA);Größe', '0;5,05;400000;x', '1;5,04;500000;x'].join('\n');
	const bytesOf = (encoding: string): Uint8Array => {
		if (encoding === 'windows-1252') return Uint8Array.from(text, (letter) => letter.charCodeAt(0));
		if (encoding === 'utf-8') return new TextEncoder().encode(text);
		const wide = new Uint8Array(2 * text.length);
		const view = new DataView(wide.buffer);
		[...text].forEach((letter, i) => view.setUint16(2 * i, letter.charCodeAt(0), encoding === 'utf-16le'));
		return wide;
	};
	it.each(['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'])('%s is read as it was written', (encoding) => {
		const bytes = bytesOf(encoding);
		expect(encodingOf(bytes)).toBe(encoding);
		expect(decodeLog(bytes)).toBe(text);
		expect(read(decodeLog(bytes)).amps).toEqual([0.4, 0.5].map((value) => expect.closeTo(value, 9)));
	});
	it.each([
		['utf-16le', [0xff, 0xfe]],
		['utf-16be', [0xfe, 0xff]]
	] as const)('%s with its byte-order mark', (encoding, mark) => {
		const bytes = Uint8Array.from([...mark, ...bytesOf(encoding)]);
		expect(encodingOf(bytes)).toBe(encoding);
		expect(read(decodeLog(bytes)).seconds).toEqual([0, 1]);
	});
	it('a letter that the head cuts in two is no other encoding', () => {
		const bytes = bytesOf('utf-8');
		const cut = bytes.findIndex((byte) => byte > 127) + 1;
		expect(encodingOf(bytes.slice(0, cut))).toBe('utf-8');
	});
});
