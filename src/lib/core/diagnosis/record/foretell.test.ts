import { describe, expect, it } from 'vitest';
import { catalog, lesson, none, times } from '$worlds/fuse-and-port';
import { engineOf } from '../engine';
import { inferOdds } from '../infer/odds';
import type { Features } from '../learn/evidence';
import { learn } from '../learn/learn';
import { foretell, foretellInOrder, type PastCase } from './foretell';

/** One ticket foretold, beside sums made by hand. Costs: 60 an hour, a swapped board takes too long to pay. */

const engine = engineOf(catalog, learn([...times(16, lesson()), ...times(4, lesson({ faults: ['port'] }))]));
const costs = {
	operationMinutes: (operation: string) => (operation === 'swap' ? 600 : 30),
	lossOfGivingUpMinor: 20_000
};
const through: Features['answers'] = [{ question: 'probe', answer: 'through' }];
const past = (features: Partial<Features> = {}, more: Partial<PastCase> = {}): PastCase => ({
	number: 'K-1',
	closedAt: 5,
	lesson: lesson({ faults: ['port'], features: { ...none, ...features } }),
	fixedBy: ['fit-port'],
	...more
});
const told = (features?: Partial<Features>, more?: Partial<PastCase>) =>
	foretell(engine, past(features, more), costs);
/** chances of the two faults, as the odds say */
const chances = (features: Partial<Features>) => {
	const { faults } = inferOdds(engine, 'm', { ...none, ...features }).odds;
	return ['fuse', 'port'].map((code) => faults.find((fault) => fault.code === code)?.probability as number);
};
const marked = ([fuse, port]: number[], came: [number, number] = [0, 1]) => {
	const pairs = [
		[fuse as number, came[0]],
		[port as number, came[1]]
	] as const;
	const log = pairs.reduce((sum, [p, y]) => sum - Math.log(y === 1 ? p : 1 - p), 0) / 2;
	const brier = pairs.reduce((sum, [p, y]) => sum + (p - y) ** 2, 0) / 2;
	return { logLoss: expect.closeTo(log, 9) as number, brier: expect.closeTo(brier, 9) as number };
};

describe('a ticket foretold', () => {
	it('names the fault and its chance, from the tickets before', () => {
		const { number, model, closedAt, from, faults, came, first, chances: all } = told({ answers: through });
		expect({ number, model, closedAt, from, faults, came }).toEqual({
			number: 'K-1',
			model: 'm',
			closedAt: 5,
			from: 20,
			faults: ['port'],
			came: [0, 1]
		});
		const expected = chances({ answers: through });
		expect(first).toEqual({ fault: 'port', chance: expected[1] });
		expect(all).toEqual(expected.map((chance) => Math.round(chance * 1e5) / 1e5));
	});
	it('is marked with all that was seen, with signs alone, and by the usual faults alone', () => {
		const features = { signs: [['dead', true] as [string, boolean]], answers: through };
		const { bench, counter, usual } = told(features);
		expect(bench).toEqual({ place: 1, ...marked(chances(features)) });
		expect(counter).toEqual({ place: 2, ...marked(chances({ signs: features.signs })) });
		expect(usual).toEqual({ place: 2, ...marked(chances({})) });
	});
	it('never sees the repairs, nor the guess that it is held against; a customer’s claim it sees', () => {
		const plain = told({ answers: through }).bench;
		expect(told({ answers: through, attempts: [{ operation: 'fit-fuse', resolved: false }] }).bench).toEqual(
			plain
		);
		expect(told({ answers: through, opinions: [{ source: 'technician:ada', fault: 'fuse' }] }).bench).toEqual(
			plain
		);
		const claimed = { answers: through, opinions: [{ source: 'customer:', fault: 'fuse' }] };
		expect(told(claimed).bench).toEqual({ place: 1, ...marked(chances(claimed)) });
		expect(told(claimed).bench).not.toEqual(plain);
	});
	it('holds a guess against it: its fault as often as guesses are right, the other takes what is left', () => {
		const [fuse, port] = chances({}) as [number, number];
		const guess = (fault: string) => told({ opinions: [{ source: 'technician:ada', fault }] }).guess;
		// nobody guessed before: right every other time
		expect(guess('fuse')).toEqual({
			fault: 'fuse',
			right: false,
			place: fuse + port - 0.5 > 0.5 ? 1 : 2,
			...marked([0.5, fuse + port - 0.5])
		});
		expect(guess('port')).toMatchObject({ fault: 'port', right: true, ...marked([fuse + port - 0.5, 0.5]) });
		expect(told().guess).toBeNull();
		expect(told({ opinions: [{ source: 'customer:', fault: 'port' }] }).guess).toBeNull();
	});
	it('counts what the catalog knows; where nothing was wrong there is no place', () => {
		const gone = told({}, { lesson: lesson({ faults: ['gone'] }) });
		expect(gone).toMatchObject({ faults: [], came: [0, 0], bench: { place: null }, cost: null });
		const both = told({}, { lesson: lesson({ faults: ['port', 'fuse'] }) });
		expect(both).toMatchObject({ came: [1, 1], bench: { place: 1 } });
	});
});

describe('what the plan would have cost', () => {
	// a probe: 6 min at 60 an hour, 1 of cost, a tenth of the loss; a fuse: 30 min and two parts of 1.50; a port: 30 min
	const [probe, fuse, port] = [600 + 100 + 2000, 3000 + 300, 3000];
	it('beside what was done: tests once, each repair once, at the same prices', () => {
		expect(told({ answers: through }).cost?.doneMinor).toBe(probe + port);
		expect(told({}, { fixedBy: ['fit-fuse', 'fit-port', 'fit-port'] }).cost?.doneMinor).toBe(fuse + port);
		// a measurement is no test of the catalog, and what the catalog no longer knows costs nothing
		expect(
			told({ answers: [{ question: 'meter:draw', answer: 'low' }] }, { fixedBy: ['fit-port', 'gone'] }).cost
				?.doneMinor
		).toBe(port);
	});
	it('fits what is likeliest first, and goes on where that was in vain', () => {
		expect(told({}, { lesson: lesson(), fixedBy: ['fit-fuse'] }).cost).toEqual({
			planMinor: fuse,
			doneMinor: fuse
		});
		expect(told().cost?.planMinor).toBe(fuse + port);
	});
	it('begins with what was measured, not with what the tests said', () => {
		// the fuse is likeliest still, whatever the probe said on that day: it had not been asked yet
		expect(told({ answers: through }).cost?.planMinor).toBe(told().cost?.planMinor);
	});
	it('is not said where nothing was repaired or nothing was found', () => {
		expect(told({}, { fixedBy: null }).cost).toBeNull();
		expect(told({}, { fixedBy: [] }).cost).toBeNull();
		expect(told({}, { lesson: lesson({ faults: [] }) }).cost).toBeNull();
	});
});

describe('tickets foretold in order', () => {
	const run = (before: number, moments: readonly number[]) =>
		[
			...foretellInOrder(
				catalog,
				times(before, lesson()),
				moments.map((closedAt, i) => ({ ...past(), number: `K-${i}`, closedAt })),
				() => costs
			)
		].map(({ number, from }) => [number, from]);
	it('each from those closed before it, those of one moment from the same', () => {
		expect(run(10, [1, 2, 2, 2, 3]).map(([, from]) => from)).toEqual([10, 11, 11, 11, 14]);
		expect(run(0, [1, 2]).map(([, from]) => from)).toEqual([0, 1]);
		expect(run(3, [])).toEqual([]);
	});
	it('learns anew once more than five of a hundred wait', () => {
		expect(run(100, [1, 2, 3, 4, 5, 6, 7]).map(([, from]) => from)).toEqual([
			100, 100, 100, 100, 100, 100, 106
		]);
		expect(run(100, [1, 2]).map(([number]) => number)).toEqual(['K-0', 'K-1']);
	});
});
