import { describe, expect, it } from 'vitest';
import { countdownWords, waitCalls, waitKey } from './wait-calls';

const wait = (number: string, until: number) => ({ number, for: 'cure', until });

describe('waits that end', () => {
	it('those whose time is over stand apart, longest over first', () => {
		const waits = [wait('c', 30), wait('a', 10), wait('b', 20)];
		expect(waitCalls(waits, 20)).toEqual({ over: [wait('a', 10), wait('b', 20)], running: [wait('c', 30)] });
		expect(waitCalls(waits, 9).over).toEqual([]);
		// a clock that was set back calls nothing twice: the key is the end, not the moment
		expect(waitKey(wait('a', 10))).toBe(waitKey(wait('a', 10)));
		expect(waitKey(wait('a', 10))).not.toBe(waitKey(wait('a', 11)));
	});
	it.each([
		[1, '0:01'],
		[999, '0:01'],
		[1001, '0:02'],
		[59_000, '0:59'],
		[60_000, '1:00'],
		[545_000, '9:05'],
		[3_599_000, '59:59'],
		[3_600_000, '1 h 00'],
		[3_840_000, '1 h 04'],
		[0, 'over now'],
		[-59_000, 'over now'],
		[-60_000, 'over 1 min'],
		[-7_140_000, 'over 119 min'],
		[-7_200_000, 'over 2 h']
	])('%d ms left: %s', (left, words) =>
		expect(countdownWords(1_000_000_000 + left, 1_000_000_000)).toBe(words)
	);
});
