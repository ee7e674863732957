import { describe, expect, it } from 'vitest';
import { openRun, runsOf, type FollowedStep } from './procedure-run';

const entry = (did: FollowedStep['did'], step = 0, more: Partial<FollowedStep> = {}): FollowedStep => ({
	procedure: 'port',
	version: 1,
	step,
	did,
	...more
});

describe('runs of a procedure', () => {
	it('none has begun', () => {
		expect(runsOf([])).toEqual([]);
		expect(openRun([])).toBeNull();
	});
	it('the next step is the one behind the last that was done or left out', () => {
		expect(openRun([entry('begun')])?.next).toBe(0);
		expect(openRun([entry('begun'), entry('done', 0), entry('skipped', 1)])?.next).toBe(2);
	});
	it('going on later is the same run; its end ends it, and the next beginning is another', () => {
		const entries = [
			entry('begun', 0, { at: 10 }),
			entry('done', 0),
			entry('begun', 1, { at: 50 }),
			entry('ended', 1, { at: 60 })
		];
		expect(runsOf(entries)).toMatchObject([{ startedAt: 10, endedAt: 60, ended: true, next: 1 }]);
		expect(openRun(entries)).toBeNull();
		expect(openRun([...entries, entry('begun', 0, { at: 90, version: 2 })])).toMatchObject({
			startedAt: 90,
			version: 2,
			next: 0
		});
	});
});
