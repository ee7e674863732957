import { describe, expect, it } from 'vitest';
import { records, unseen } from '$worlds/fuse-and-port';
import { buildCatalog } from '../../catalog/catalog';
import { engineOf } from '../engine';
import { emptyLearned, learn, LESSONS, lessonOf, type Before } from '../learn/learn';
import { comebackLikelihoods } from './comeback-likelihood';

/** A belief that six comebacks of ten after a new port are the port, against what the shop's own comebacks were. */
const SETS = [[0], [1]];
const weighing = (weight?: number) =>
	buildCatalog([
		...records,
		{
			record: 'comeback-belief',
			operation: 'fit-port',
			faults: { port: 0.6 },
			...(weight === undefined ? {} : { weight })
		}
	]);
const catalog = weighing(20);
const learnedFrom = (found: Record<string, number>) => ({
	...emptyLearned(),
	comebacks: new Map([['fit-port', new Map(Object.entries(found))]])
});

/** How many times likelier the fuse became than the port; both are equally usual. */
function fuseOverPort(found: Record<string, number>, days = 5, believed = catalog): number {
	const engine = engineOf(believed, learnedFrom(found));
	const [told] = comebackLikelihoods(engine, SETS, 'm', {
		earlier: [{ operation: 'fit-port', days }],
		attempts: []
	});
	return Math.exp((told?.logLikelihood[0] as number) - (told?.logLikelihood[1] as number));
}

describe('a comeback, by belief and by record', () => {
	it('the belief alone in an empty shop', () => {
		expect(fuseOverPort({})).toBeCloseTo(0.4 / 0.6, 9);
		expect(fuseOverPort({}, 5, weighing(0))).toBeCloseTo(1, 9);
	});
	it('twenty tickets of belief beside the shop’s own comebacks', () => {
		expect(fuseOverPort({ fuse: 40 })).toBeCloseTo((20 * 0.4 + 40) / (20 * 0.6), 9);
		expect(fuseOverPort({ fuse: 10, port: 30 })).toBeCloseTo((8 + 10) / (12 + 30), 9);
		expect(fuseOverPort({ fuse: 40 }, 5, weighing(60))).toBeCloseTo((60 * 0.4 + 40) / (60 * 0.6), 9);
	});
	it('twenty too where a belief does not say what it weighs', () =>
		expect(fuseOverPort({ fuse: 40 }, 5, weighing())).toBe(fuseOverPort({ fuse: 40 })));
	it('two faults on one comeback share it', () =>
		expect(fuseOverPort({ 'fuse|port': 20 })).toBeCloseTo((8 + 10) / (12 + 10), 9));
	it('what is late is another fault, of belief alone', () => {
		expect(fuseOverPort({}, 90)).toBeCloseTo(0.8 / 0.2, 9);
		expect(fuseOverPort({ port: 20 }, 90)).toBeCloseTo(16 / (4 + 20), 9);
	});
});

describe('what a comeback teaches of comebacks', () => {
	const before = (more: Partial<Before> = {}): Before => ({
		number: 'K-1',
		operations: ['fit-fuse', 'fit-port'],
		fixedBy: ['fit-fuse', 'fit-port'],
		lesson: null,
		...more
	});
	const closed = (more: object) =>
		lessonOf({ ...unseen('m'), closedAt: 5, faults: ['fuse'], earlierVisit: before(), ...more }, catalog);
	it('what was found, by the last repair that the catalog believes something of', () => {
		expect(closed({})?.cameBack).toEqual({ operation: 'fit-port', faults: ['fuse'] });
		expect(closed({ earlierVisit: before({ fixedBy: ['fit-port', 'fit-fuse'] }) })?.cameBack).toEqual({
			operation: 'fit-port',
			faults: ['fuse']
		});
	});
	it('with what the repair itself had broken', () =>
		expect(closed({ faults: ['fuse', 'port'], ownFaults: ['port'] })?.cameBack?.faults).toEqual([
			'fuse',
			'port'
		]));
	it('nothing where it does not count, nothing was found, or nothing had mended it', () => {
		for (const more of [
			{ earlierVisit: before({ counts: false }) },
			{ faults: [] },
			{ earlierVisit: before({ fixedBy: ['fit-fuse'] }) },
			{ earlierVisit: before({ fixedBy: [] }) },
			{ earlierVisit: null }
		])
			expect(closed(more)).not.toHaveProperty('cameBack');
	});
	it('is counted, and taken back without a rest', () => {
		const lesson = closed({})!;
		expect(learn([lesson, lesson]).comebacks).toEqual(new Map([['fit-port', new Map([['fuse', 2]])]]));
		const learned = LESSONS.empty();
		LESSONS.add(learned, lesson);
		LESSONS.remove(learned, lesson);
		expect(LESSONS.settled?.(learned)).toEqual({ ...emptyLearned(), changes: 2 });
	});
});
