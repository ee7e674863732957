import { describe, expect, it } from 'vitest';
import { catalog, lesson, none, times, unseen } from '$worlds/fuse-and-port';
import { seededRandom } from '../../units/random';
import { engineOf } from '../engine';
import { inferOdds } from '../infer/odds';
import { chancesOfWrong, withoutDoubted } from './doubted-lessons';
import { emptyLearned, learn, LESSONS, lessonOf, type Doubt, type Lesson } from './learn';

/** A comeback with another fault: which part of the first lesson it takes back. */

const dead = (present: boolean) => ({ ...none, signs: [['dead', present]] as [string, boolean][] });
const seen = (fault: string, present: boolean, more: Partial<Lesson> = {}) =>
	lesson({ faults: [fault], features: dead(present), ...more });
const doubt = (number: string, first: Lesson, instead: string[]): Doubt => ({ number, first, instead });
const back = (number: string, first: Lesson, fault: string, closedAt = 9) =>
	lesson({ closedAt, faults: [fault], doubts: doubt(number, first, [fault]) });

describe('what is doubted', () => {
	const first = lessonOf({ ...unseen('m'), closedAt: 3, faults: ['fuse'] }, catalog);
	const came = (more: object = {}, before: object = {}) =>
		lessonOf(
			{
				...unseen('m'),
				closedAt: 5,
				faults: ['port'],
				earlierVisit: { number: 'K-1', operations: [], lesson: first, ...before },
				...more
			},
			catalog
		)?.doubts;
	it('is the first lesson, where another fault was found', () => {
		expect(came()).toEqual({ number: 'K-1', first, instead: ['port'] });
	});
	it.each<[string, object, object?]>([
		['the same fault again', { faults: ['fuse'] }],
		['the same with another', { faults: ['port', 'fuse'] }],
		['nothing found', { faults: [] }],
		['what the first repair broke', { faults: ['port', 'fuse'], ownFaults: ['port'] }],
		['another model', { model: 'other' }],
		['closed before the first was', { closedAt: 2 }],
		['a first ticket that taught nothing', {}, { lesson: null }]
	])('%s: nothing', (_, more, before = {}) => expect(came(more, before)).toBeUndefined());
	it('who found out why it came back says which of the two it was', () => {
		expect(came({}, { wrong: true })).toMatchObject({ wrong: true });
		expect(came({}, { wrong: false })).toMatchObject({ wrong: false });
	});
	it('nothing found at first is doubted too, and a first that was a comeback itself keeps its own doubts apart', () => {
		const empty = lesson({ faults: [], closedAt: 2 });
		expect(came({}, { lesson: empty })).toMatchObject({ first: { faults: [] } });
		const chain = back('K-0', first!, 'fuse', 4);
		expect(came({}, { lesson: chain })?.first).not.toHaveProperty('doubts');
	});
});

describe('how far', () => {
	// by hand: dead on 9 of 10 fuses and on 1 of 10 ports
	const firsts = [seen('fuse', false), seen('fuse', true)];
	const all = [
		...times(8, seen('fuse', true)),
		...firsts,
		...times(1, seen('port', true)),
		...times(9, seen('port', false))
	];
	const chance = (like: number, of: number, usual: number) => (like + 4 * usual) / (of + 4);
	it('what was found out holds, and teaches how often it is so', () => {
		const learned = learn(all);
		const [one, other] = firsts.map((first, i) => doubt(`K-${i}`, first, ['port'])) as [Doubt, Doubt];
		const unknown = chancesOfWrong(learned, [one])[0] as number;
		const told = (wrong: boolean) => chancesOfWrong(learned, [one, { ...other, wrong }]);
		expect(told(true)[1]).toBe(1);
		expect(told(false)[1]).toBe(0);
		expect(told(true)[0]).toBeGreaterThan(unknown);
		expect(told(false)[0]).toBeLessThan(unknown);
	});
	it('by what was seen the first time, the ticket itself not counted', () => {
		const learned = learn(all);
		const doubts = firsts.map((first, i) => doubt(`K-${i}`, first, ['port']));
		const wrong = chancesOfWrong(learned, doubts);
		// 9 of 20 were not dead, without the ticket itself 9 of 19; 10 of 19 were dead without the other
		const ratios = [
			chance(9, 10, 9.5 / 20) / chance(0, 9, 9.5 / 20),
			chance(1, 10, 9.5 / 20) / chance(8, 9, 9.5 / 20)
		];
		let share = 0.5;
		for (let round = 0; round < 20; round++) {
			const sum = ratios.reduce((total, ratio) => total + (share * ratio) / (share * ratio + 1 - share), 0);
			share = (2 + sum) / (4 + 2);
		}
		ratios.forEach((ratio, i) =>
			expect(wrong[i]).toBeCloseTo((share * ratio) / (share * ratio + 1 - share), 12)
		);
		expect(wrong[0]!).toBeGreaterThan(0.75);
		expect(wrong[1]!).toBeLessThan(0.35);
	});
	it('that part of the first lesson counts for the later fault, and its repair as not tried on it', () => {
		const first = seen('fuse', false, { tried: [['fit-fuse', true]] });
		const counts = [...all, first];
		const learned = learn([...counts, back('K-1', first, 'port')]);
		const [wrong] = chancesOfWrong(learned, [doubt('K-1', first, ['port'])]) as [number];
		const counted = withoutDoubted(learned);
		expect(counted.faults.get('fuse')).toBeCloseTo(11 - wrong, 12);
		expect(counted.faults.get('port')).toBeCloseTo(11 + wrong, 12);
		expect(counted.operations.get('fit-fuse')!.map((n) => n.toFixed(9))).toEqual(
			[1 - wrong, 1 - wrong].map((n) => n.toFixed(9))
		);
		expect(counted.tickets).toBe(22);
		expect(learned.faults.get('fuse')).toBe(11);
		// a second comeback of the same ticket takes its share of what is left
		const twice = learn([...counts, back('K-1', first, 'port'), back('K-1', first, 'port', 12)]);
		const both = chancesOfWrong(twice, times(2, doubt('K-1', first, ['port']))) as [number, number];
		expect(withoutDoubted(twice).faults.get('fuse')).toBeCloseTo(11 - both[0] - (1 - both[0]) * both[1], 12);
	});
	it('nothing came back with another fault: the counts themselves', () => {
		const learned = learn(all);
		expect(withoutDoubted(learned)).toBe(learned);
	});
	it('is taken back to the last digit, and the latest first lesson holds', () => {
		const learned = LESSONS.empty();
		const old = back('K-1', firsts[0]!, 'port');
		const anew = back('K-1', firsts[1]!, 'port');
		LESSONS.add(learned, old);
		LESSONS.add(learned, anew);
		LESSONS.remove(learned, old);
		expect([...LESSONS.settled(learned).doubted.values()]).toEqual([[anew.doubts, 1]]);
		LESSONS.remove(learned, anew);
		expect(LESSONS.settled(learned)).toEqual({ ...emptyLearned(), changes: 4 });
	});
});

describe('in an invented shop', () => {
	/**
	 * Half of the devices have a dead fuse: dead nine times of ten; the others a port: dead one time of ten. A part of the ports is
	 * first taken for fuses and comes back; a part of the fuses comes back with a new port.
	 */
	function shop(wrong: number, fresh: number, seed: number): Lesson[] {
		const random = seededRandom(seed);
		return Array.from({ length: 600 }, (_, i): Lesson[] => {
			const truth = random() < 0.5 ? 'fuse' : 'port';
			const features = dead(random() < (truth === 'fuse' ? 0.9 : 0.1));
			const mistaken = truth === 'port' && random() < wrong;
			const first = seen(mistaken ? 'fuse' : truth, true, { features, closedAt: i });
			const again = seen('port', true, { features: dead(random() < 0.1), closedAt: i + 0.5 });
			const comes = mistaken || (truth === 'fuse' && random() < fresh);
			return comes ? [first, { ...again, doubts: doubt(`K-${i}`, first, ['port']) }] : [first];
		}).flat();
	}
	const oddsOfFuse = (lessons: Lesson[]) =>
		inferOdds(engineOf(catalog, learn(lessons)), 'm', dead(false)).odds.faults.find(
			({ code }) => code === 'fuse'
		)!.probability;
	const blind = (lessons: Lesson[]) => lessons.map(({ doubts: _, ...rest }) => rest);
	it('confirmations that were wrong teach little of what they taught', () => {
		const lessons = shop(0.5, 0, 4);
		// a device that is not dead is hardly a fuse; by the wrong confirmations a third of them were
		const [with_, without] = [oddsOfFuse(lessons), oddsOfFuse(blind(lessons))];
		expect(without).toBeGreaterThan(0.25);
		expect(with_).toBeLessThan(without / 2);
	});
	it('new faults take hardly anything back', () => {
		const lessons = shop(0, 0.3, 5);
		const learned = learn(lessons);
		const doubts = lessons.flatMap((each) => each.doubts ?? []);
		const wrong = chancesOfWrong(learned, doubts);
		expect(doubts.length).toBeGreaterThan(60);
		expect(wrong.reduce((a, b) => a + b, 0) / wrong.length).toBeLessThan(0.1);
	});
});
