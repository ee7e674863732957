import { describe, expect, it } from 'vitest';
import { seededRandom } from '../units/random';
import { addWalk, leftOf, walksFrom, type LearnedWalks, type Walk } from './habits';

const walk = (tests: Record<string, string>, operations: string[] = ['fit']): Walk => ({
	tests: Object.entries(tests).map(([test, outcome]) => ({ test, outcome })),
	operations,
	fixed: true
});
const doneSoFar = (tests: Record<string, string>, operations: string[] = []) => ({
	tests: walk(tests).tests,
	operations
});
const codes = ({ tests }: Walk) => tests.map(({ test }) => test);

describe('what is left of a walk', () => {
	it.each<[string, Walk, Record<string, string>, string[], string[]]>([
		['all, where nothing was done', walk({ look: 'a', feel: 'b' }), {}, ['look', 'feel'], ['fit']],
		[
			'its tests but for those that were made',
			walk({ look: 'a', feel: 'b' }),
			{ look: 'a' },
			['feel'],
			['fit']
		],
		['whatever they answered', walk({ look: 'a', feel: 'b' }), { feel: 'z' }, ['look'], ['fit']],
		['less one for each that it lacks', walk({ look: 'a', feel: 'b' }), { swap: 'a' }, ['feel'], ['fit']],
		['never less than none', walk({ look: 'a' }), { swap: 'a', try: 'b' }, [], ['fit']],
		['nothing of tests where all were made', walk({ look: 'a' }), { look: 'a', swap: 'b' }, [], ['fit']]
	])('%s', (_, whole, done, tests, operations) => {
		const left = leftOf(whole, doneSoFar(done));
		expect(codes(left)).toEqual(tests);
		expect(left.operations).toEqual(operations);
	});
	it('operations but for those that were tried, each as often as it was', () => {
		const tried = (...operations: string[]) =>
			leftOf(walk({}, ['a', 'b', 'a']), doneSoFar({}, operations)).operations;
		expect(tried('a')).toEqual(['b', 'a']);
		expect(tried('a', 'a', 'a')).toEqual(['b']);
		expect(tried('c')).toEqual(['a', 'b', 'a']);
	});
});

describe('walks to draw from', () => {
	const learned = (...walks: [Walk, number][]): LearnedWalks => {
		const counted: LearnedWalks = new Map();
		for (const [each, times] of walks) for (let i = 0; i < times; i++) addWalk(counted, 'port', each);
		return counted;
	};
	const shareOf = (walks: LearnedWalks, done: Record<string, string>, has: (left: Walk) => boolean) => {
		const found = walksFrom(walks, 'port', doneSoFar(done))!;
		const random = seededRandom(5);
		const drawn = Array.from({ length: 4000 }, () => found.draw(random));
		return drawn.filter(has).length / drawn.length;
	};
	it('are as frequent as they were', () => {
		const walks = learned([walk({ look: 'a' }, ['fit']), 3], [walk({ look: 'a' }, ['clean']), 1]);
		expect(walksFrom(walks, 'port', doneSoFar({}))!.count).toBe(4);
		expect(shareOf(walks, {}, ({ operations }) => operations[0] === 'fit')).toBeCloseTo(0.75, 1);
		expect(walksFrom(walks, 'fuse', doneSoFar({}))).toBeNull();
	});
	it('are likelier where the same tests answered the same, and least likely where they were not made', () => {
		const walks = learned(
			[walk({ look: 'a' }, ['same']), 10],
			[walk({ look: 'b', feel: 'a' }, ['other']), 10],
			[walk({ swap: 'a', try: 'b' }, ['lacks']), 10]
		);
		const share = (operation: string) =>
			shareOf(walks, { look: 'a' }, ({ operations }) => operations[0] === operation);
		// by hand: 1, .1 and .05 of 1.15
		expect(Math.abs(share('same') - 1 / 1.15)).toBeLessThan(0.02);
		expect(Math.abs(share('other') - 0.1 / 1.15)).toBeLessThan(0.02);
		expect(Math.abs(share('lacks') - 0.05 / 1.15)).toBeLessThan(0.02);
	});
	it('so that after an answer which ended the tests none are left, and after another one more is', () => {
		const walks = learned([walk({ look: 'found' }), 20], [walk({ look: 'fine', feel: 'a' }), 20]);
		const goesOn = (outcome: string) => shareOf(walks, { look: outcome }, ({ tests }) => tests.length > 0);
		expect(goesOn('found')).toBeLessThan(0.12);
		expect(goesOn('fine')).toBeGreaterThan(0.88);
	});
	it('are likelier as the caller leans by what is left of them', () => {
		const walks = learned([walk({ look: 'a' }), 10], [walk({ look: 'a', feel: 'b' }), 10]);
		const found = walksFrom(walks, 'port', doneSoFar({ look: 'a' }), (left) =>
			left.tests.length === 0 ? 0 : 1
		)!;
		const random = seededRandom(1);
		for (let i = 0; i < 200; i++) expect(codes(found.draw(random))).toEqual(['feel']);
	});
	it('leave nothing behind where they are taken back', () => {
		const walks = learned([walk({ look: 'a' }), 2], [walk({ look: 'b' }), 1]);
		for (const answer of ['a', 'b', 'a']) addWalk(walks, 'port', walk({ look: answer }), -1);
		expect(walks).toEqual(new Map());
	});
});
