import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readLogText } from './read-log';

describe('logs through the CSV library', () => {
	it('answers with words, whatever it is given', () => {
		fc.assert(
			fc.property(fc.oneof(fc.string(), fc.string({ unit: 'binary' }), fc.json()), (text) => {
				const read = readLogText(text);
				if (!read.ok) expect(read.message.length).toBeGreaterThan(10);
				else expect(read.log.trace.seconds.length).toBeGreaterThan(0);
			}),
			{ numRuns: 400 }
		);
	});
	it('more than half a million rows are refused, with a way out', () => {
		const read = readLogText(`t,V,A\n${'1,5,1\n'.repeat(500_001)}`);
		expect(read).toEqual({ ok: false, message: expect.stringContaining('500,000 rows; cut it') });
	});
});
