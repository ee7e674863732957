import { describe, expect, it } from 'vitest';
import { catalog, lesson, unseen } from '$worlds/fuse-and-port';
import { simulatedName } from '../../readings/instrument';
import { withoutSimulated } from './evidence';
import { emptyLearned, learn, LESSONS, lessonOf, setKey, faultsOfKey } from './learn';

/** What a closed ticket teaches, and what it takes back. */

const plain = unseen('m');

describe('a lesson', () => {
	const closed = (more: object = {}) => ({ ...plain, closedAt: 5, faults: ['fuse'], ...more });
	it('is nothing while open or where nothing was confirmed', () => {
		expect(lessonOf(closed({ closedAt: null }), catalog)).toBeNull();
		expect(lessonOf(closed({ faults: null }), catalog)).toBeNull();
		expect(lessonOf(closed({ faults: [] }), catalog)).toMatchObject({ faults: [], tried: [] });
	});
	it('readings of the stand-ins teach nothing', () => {
		const meter = simulatedName('bench');
		const simulated = {
			meter: [{ stage: 'intake', volts: 5, amps: 0.5, meter }],
			battery: [{ stage: 'intake', volts: 3.7, meter }],
			readings: [{ stage: 'intake', pin: '1', mode: 'diode' as const, value: 0.4, meter }]
		};
		expect(lessonOf(closed(simulated), catalog)?.features.answers).toEqual([]);
		const real = { ...simulated, meter: [{ stage: 'intake', volts: 5, amps: 0.5, meter: 'bench' }] };
		expect(lessonOf(closed(real), catalog)?.features.answers.map(({ question }) => question)).toEqual([
			'meter:draw',
			'meter:contract'
		]);
		const untouched = { ...plain, meter: real.meter };
		expect(withoutSimulated(untouched)).toBe(untouched);
	});
	it('a fault that the repair made was not there before', () => {
		expect(lessonOf(closed({ faults: ['fuse', 'port'], ownFaults: ['port'] }), catalog)).toMatchObject({
			faults: ['fuse'],
			broke: ['port']
		});
		expect(lessonOf(closed(), catalog)).not.toHaveProperty('broke');
	});
	it('what a comeback finds broken is blamed on the work before it came back', () => {
		const back = (before: string[] | null) =>
			lessonOf(
				{
					...closed({
						faults: ['fuse', 'port'],
						ownFaults: ['port'],
						attempts: [{ operation: 'fit-fuse', resolved: true }]
					}),
					earlierVisit: before && { number: 'K-1', operations: before, lesson: null }
				},
				catalog
			)!;
		expect(back(null)).not.toHaveProperty('brokenBy');
		expect(back([])).not.toHaveProperty('brokenBy');
		const lesson = back(['fit-port', 'fit-port']);
		expect(lesson.brokenBy).toEqual(['fit-port']);
		const first = lessonOf(closed({ attempts: [{ operation: 'fit-port', resolved: true }] }), catalog)!;
		const { harm } = learn([first, lesson]);
		expect([...harm]).toEqual([
			['fit-fuse', [0, 1]],
			['fit-port', [1, 1]]
		]);
		const learned = LESSONS.empty();
		LESSONS.add(learned, lesson);
		LESSONS.remove(learned, lesson);
		expect(LESSONS.settled!(learned)).toEqual({ ...emptyLearned(), changes: 2 });
		// nothing is blamed on anybody where nothing was broken
		const sound = lessonOf(
			{ ...closed(), earlierVisit: { number: 'K-1', operations: ['fit-port'], lesson: null } },
			catalog
		)!;
		expect(sound).not.toHaveProperty('brokenBy');
	});
	it('steps of a longer repair teach nothing of success, but of harm', () => {
		const part = { operation: 'fit-port', resolved: false, part: true };
		const whole = lessonOf(
			closed({
				faults: ['fuse', 'port'],
				ownFaults: ['port'],
				attempts: [part, { operation: 'fit-fuse', resolved: true }]
			}),
			catalog
		)!;
		expect(whole.tried).toEqual([['fit-fuse', true]]);
		expect(whole.steps).toEqual(['fit-port']);
		const { harm, operations, broke } = learn([whole]);
		expect(harm.get('fit-port')).toEqual([1, 1]);
		expect(harm.get('fit-fuse')).toEqual([1, 1]);
		expect(operations.has('fit-port')).toBe(false);
		expect(broke.get('port')).toBe(1);
		const learned = LESSONS.empty();
		LESSONS.add(learned, whole);
		LESSONS.remove(learned, whole);
		expect(LESSONS.settled!(learned)).toEqual({ ...emptyLearned(), changes: 2 });
	});
	const tried = (faults: string[], ...attempts: [string, boolean][]) =>
		lessonOf(
			closed({ faults, attempts: attempts.map(([operation, resolved]) => ({ operation, resolved })) }),
			catalog
		)?.tried;
	it.each<[string, string[], [string, boolean][], [string, boolean][]]>([
		['one that worked', ['fuse'], [['fit-fuse', true]], [['fit-fuse', true]]],
		[
			'one that failed is learnt as failed',
			['fuse'],
			[
				['fit-fuse', false],
				['fit-fuse', true]
			],
			[
				['fit-fuse', false],
				['fit-fuse', true]
			]
		],
		[
			'one that addresses nothing says nothing',
			['fuse'],
			[
				['fit-port', false],
				['wipe', false],
				['fit-fuse', true]
			],
			[['fit-fuse', true]]
		],
		[
			'part of two faults says nothing, the rest then does',
			['fuse', 'port'],
			[
				['fit-fuse', false],
				['fit-port', true]
			],
			[['fit-port', true]]
		],
		['all at once', ['fuse', 'port'], [['swap', true]], [['swap', true]]],
		[
			'nothing after it worked',
			['fuse'],
			[
				['fit-fuse', true],
				['fit-fuse', false]
			],
			[['fit-fuse', true]]
		],
		['without a fault nothing', [], [['fit-fuse', true]], []]
	])('attempts: %s', (_, faults, attempts, learnt) => expect(tried(faults, ...attempts)).toEqual(learnt));
	it('adds to every count, and comes out without a trace', () => {
		const all = lesson({
			faults: ['port', 'fuse'],
			broke: ['fuse'],
			features: {
				signs: [['dead', true]],
				answers: [{ question: 'probe', answer: 'open' }],
				attempts: [
					{ operation: 'fit-fuse', resolved: true },
					{ operation: 'fit-fuse', resolved: true }
				],
				opinions: [{ source: 'customer:', fault: 'port' }]
			},
			tried: [
				['swap', true],
				['swap', false]
			]
		});
		const counted = learn([all, lesson()]);
		expect(counted).toMatchObject({ tickets: 2, sizes: [0, 1, 1, 0] });
		expect([...counted.faults]).toEqual([
			['fuse', 2],
			['port', 1]
		]);
		expect([...counted.pairs]).toEqual([['fuse|port', 1]]);
		expect(counted.signs.get('dead')?.get('fuse|port')).toEqual([1, 1]);
		expect(counted.answers.get('probe')?.get('fuse|port')?.get('open')).toBe(1);
		expect(counted.opinions.get('customer:')).toEqual([1, 1]);
		expect(counted.named.get('port')).toBe(1);
		// an operation that was tried twice on a device is one chance to harm it
		expect(counted.harm.get('fit-fuse')).toEqual([1, 1]);
		expect(counted.operations.get('swap')).toEqual([1, 2]);
		expect(counted.models.get('m')).toMatchObject({ tickets: 2, several: 1 });
		expect(counted.models.get('m')?.signs.size).toBe(0);
		const sum = LESSONS.empty();
		for (const one of [all, lesson()]) LESSONS.add(sum, one);
		for (const one of [all, lesson()]) LESSONS.remove(sum, one);
		expect({ ...LESSONS.settled(sum), changes: 0 }).toEqual(emptyLearned());
	});
	it('counts by thirty days of closing', () => {
		const day = 86_400_000;
		const periods = (...at: number[]) => [
			...(learn(at.map((closedAt) => lesson({ closedAt })))
				.models.get('m')
				?.periods.keys() ?? [])
		];
		expect(periods(0, 30 * day - 1)).toEqual([0]);
		expect(periods(30 * day)).toEqual([1]);
		expect(setKey(['b', 'a'])).toBe('a|b');
		expect(setKey([])).toBe('');
		expect(faultsOfKey('')).toEqual([]);
		expect(faultsOfKey('a|b')).toEqual(['a', 'b']);
	});
});
