import { describe, expect, it } from 'vitest';
import { traceToCsv } from '../core/charging/log-rows';
import { pinDetector } from '../core/readings/hold-detector';
import type { MeterSample } from '../core/readings/instrument';
import { simulateCharge } from '$worlds/simulated-charge';
import { seededRandom } from '../core/units/random';
import { readLogText, wholeLines } from './read-log';
import { replaySamples } from './replay';
import { splitLine } from './split-line';

describe('logs through the CSV library', () => {
	it('a trace written as CSV is read again as it was', () => {
		const { trace } = simulateCharge(seededRandom(1), {
			amps: 1,
			flat: false,
			constantSeconds: 300,
			tauSeconds: 100,
			stepSeconds: 0.5
		});
		const read = readLogText(traceToCsv(trace));
		if (!read.ok) throw new Error(read.message);
		expect(read.log.rejected).toEqual([]);
		for (const key of ['seconds', 'volts', 'amps'] as const) {
			expect(read.log.trace[key].length).toBe(trace[key].length);
			read.log.trace[key].forEach((value, i) =>
				expect(Math.abs(value - (trace[key][i] as number))).toBeLessThan(1e-6)
			);
		}
	});
	it('names the line of a row that it refuses, also behind comments and with quoted cells', () => {
		const read = readLogText('# meter\r\n"t, s";"U, V";"I, A"\r\n0;5,1;0,4\r\n\r\n1;x;0,4\r\n2;5,1;0,4\r\n');
		if (!read.ok) throw new Error(read.message);
		expect(read.log.rejected).toEqual([{ line: 5, message: 'U, V is "x", no number' }]);
	});
	it('a quote that is not closed costs its own row and no other, and is told', () => {
		const read = readLogText('t,V,A\n0,5.1,0.4\n1,"5.1,0.4\n2,5.1,0.5\n3,5.1,0.6\n');
		if (!read.ok) throw new Error(read.message);
		expect([...read.log.trace.seconds]).toEqual([0, 2, 3]);
		expect(read.log.rejected).toEqual([
			{ line: 3, message: 'has a quote that is not closed, at "\\"5.1"; take it out' }
		]);
	});
	it('quotes that close are read, delimiter and all, in the head as in the rows', () => {
		const read = readLogText('"t [s]","U, out [V]","I [A]"\n"0","5.1","0.4"\n"1","5.1","0.5"\n');
		if (!read.ok) throw new Error(read.message);
		expect(read.dialect.columns.map(({ name }) => name)).toEqual(['t [s]', 'U, out [V]', 'I [A]']);
		expect([...read.log.trace.amps]).toEqual([0.4, 0.5]);
		expect(splitLine('a;"b;c";"d ""e"""', ';')).toEqual(['a', 'b;c', 'd "e"']);
		expect(splitLine('a;"b;c', ';')).toEqual(['a', '"b', 'c']);
	});
	it('a beginning is cut at a whole line', () => {
		expect(wholeLines('a,b\n1,2\n3,', false)).toBe('a,b\n1,2');
		expect(wholeLines('a,b\n1,2', true)).toBe('a,b\n1,2');
	});
});

describe('a file as an instrument', () => {
	it('a multimeter’s file is taken contact by contact like the meter itself', () => {
		const lines = ['ms,reading'];
		let at = 0;
		for (const value of ['0.470', '0.731']) {
			for (let i = 0; i < 4; i++) lines.push(`${(at += 100)},OL`);
			for (let i = 0; i < 8; i++) lines.push(`${(at += 100)},${value}`);
		}
		const read = replaySamples('multimeter', lines.join('\n'));
		if (!read.ok) throw new Error(read.message);
		const detector = pinDetector();
		expect(read.samples.flatMap((sample) => detector.feed(sample as MeterSample) ?? [])).toEqual([
			{ value: 0.47 },
			{ value: 0.731 }
		]);
	});
	it('a power meter’s log is played as it was written', () => {
		const read = replaySamples('power-meter', 'time [s];U [V];I [mA]\n0;5,1;0\n1;5,0;450\n');
		expect(read).toEqual({
			ok: true,
			samples: [
				{ atMs: 0, volts: 5.1, amps: 0 },
				{ atMs: 1000, volts: 5, amps: 0.45 }
			]
		});
	});
	it('a quote that is not closed is told by its line', () => {
		const read = replaySamples('multimeter', 'ms,reading\n0,0.4\n100,"0.5\n200,0.6');
		expect(read).toEqual({ ok: false, message: 'line 3 has a quote that is not closed; mend it' });
	});
	it.each(['', 'hello', 'time,reading\nx,y'])('%j is refused with what a file needs', (text) => {
		const read = replaySamples('multimeter', text);
		expect(read.ok ? '' : read.message).toContain('two columns');
	});
	it('refuses what no meter writes, before any pattern is tried on it', () => {
		const rows = (cell: string) => readLogText(`t,V,A\n0,5,1\n1,${cell},1\n2,5,1\n`);
		const long = rows(`5${' '.repeat(40_000)}x`);
		expect(long.ok && long.log.rejected[0]?.message).toMatch(/too long for a value/);
		expect(readLogText(`${'1;'.repeat(5000)}1\n`)).toMatchObject({ ok: false });
		const empty = readLogText(`t,V,A\n0,5,1\n${'\n'.repeat(1_000_001)}`);
		expect(empty).toMatchObject({ ok: false, message: expect.stringMatching(/1,000,000 lines/) });
		expect(readLogText(`t,V,A\r0,5,1\r${'\r'.repeat(1_000_001)}`)).toMatchObject({ ok: false });
	});
});
