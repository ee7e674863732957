import { describe, expect, it } from 'vitest';
import { tracePhases } from './trace-phases';

describe('a log that changes all the time', () => {
	it('a square wave of half a million rows is covered by phases without gaps', () => {
		const n = 500_000;
		const trace = {
			seconds: Float64Array.from({ length: n }, (_, i) => i),
			volts: new Float64Array(n).fill(5),
			amps: Float64Array.from({ length: n }, (_, i) => (i % 4 < 2 ? 0.02 : 1))
		};
		const phases = tracePhases(trace, null);
		phases.forEach(({ fromSeconds }, i) => expect(fromSeconds).toBe(phases[i - 1]?.toSeconds ?? 0));
		expect(phases.at(-1)?.toSeconds).toBe(n - 1);
	});
	it('so many different stretches are classified in one pass', () => {
		const n = 400_000;
		const trace = {
			seconds: Float64Array.from({ length: n }, (_, i) => 100 * i),
			volts: new Float64Array(n).fill(5),
			amps: Float64Array.from({ length: n }, (_, i) => (i % 8 < 4 ? 0.4 : 1))
		};
		expect(tracePhases(trace, null).length).toBeGreaterThan(0);
	});
});
