import { buildCatalog, type Catalog } from '$lib/core/catalog/catalog';
import type { CatalogRecord } from '$lib/core/catalog/kinds';
import { lessonOf, type Lesson } from '$lib/core/diagnosis/learn/learn';
import type { Evidence } from '$lib/core/diagnosis/learn/evidence';
import { emptyPast, JOBS, shareOf, type Past, type PastJob } from '$lib/core/quoting/past';
import { drawIndex, drawNormal, seededRandom, type Random } from '$lib/core/units/random';
import { sumOf } from '$lib/core/statistics/sum';

/**
 * Invented shops whose jobs are walked to their end by a known law: signs, tests until somebody is sure, operations for what is
 * likeliest, technicians of different paces, repairs that fail, jobs that are given up, devices that come back.
 */
export interface WalkedShop {
	catalog: Catalog;
	/** what may be wrong: every fault, and every two where devices may have two */
	sets: readonly (readonly number[])[];
	/** chances of each of the sets after some signs and answers; they sum to 1 */
	posterior(seen: Seen): number[];
	/** a device with its signs */
	arrive(random: Random): { faults: readonly number[]; seen: Seen };
	/** the rest of a job, from what was seen so far */
	walk(random: Random, device: { faults: readonly number[]; seen: Seen; model: number }): WalkedJob;
	/** a job of which the faults are known: their operations until each works, twice at most */
	known(random: Random, faults: readonly number[], model: number): WalkedJob;
	comebackRate(operation: string): number;
}

export interface Seen {
	signs: readonly boolean[];
	tests: ReadonlyMap<number, number>;
}

interface WalkedJob {
	tests: ReadonlyMap<number, number>;
	attempts: { operation: string; resolved: boolean; technician: string; minutes: number }[];
	fixed: boolean;
	/** the whole job's, tests at their catalog minutes */
	minutes: number;
	costMinor: number;
}

const [FAULTS, SIGNS, TESTS, CREW, MODELS] = [7, 6, 4, 3, 4];
const SURE = 0.75;
const MOST_ATTEMPTS = 4;
const code = (kind: string, i: number) => `${kind}-${i}`;
const range = (count: number) => Array.from({ length: count }, (_, i) => i);

/** @param second share of devices with a second fault */
export function inventWalkedShop(seed: number, second = 0): WalkedShop {
	const random = seededRandom(seed);
	const prior = range(FAULTS).map(() => 0.05 + random() ** 2);
	const signs = range(FAULTS).map(() => range(SIGNS).map(() => (random() < 0.3 ? 0.75 : 0.15)));
	const tests = range(TESTS).map(() => range(FAULTS).map(() => (random() < 0.35 ? 0.9 : 0.08)));
	const testMinutes = range(TESTS).map(() => 3 + Math.round(10 * random()));
	const success = range(FAULTS).map(() => 0.75 + 0.23 * random());
	const median = range(FAULTS).map(() => 15 + 45 * random());
	const parts = range(FAULTS).map(() => Math.round(2500 * random()));
	const pace = range(CREW).map(() => 0.18 * drawNormal(random));
	const ofModel = range(MODELS).map(() => 0.15 * drawNormal(random));
	const hourly = range(CREW).map(() => 1800 + 1600 * random());
	const back = range(FAULTS).map(() => 0.02 + 0.12 * random());
	const catalog = buildCatalog([
		...range(FAULTS).flatMap((f): CatalogRecord[] => [
			{ record: 'fault', code: code('f', f), label: `F ${f}` },
			{ record: 'part', sku: code('p', f), label: `P ${f}`, unit_cost: (parts[f] as number) / 100 },
			{
				record: 'operation',
				code: code('o', f),
				label: `O ${f}`,
				minutes: Math.round((median[f] as number) * (0.7 + 0.6 * random())),
				fixes: [code('f', f)],
				parts: [{ sku: code('p', f), quantity: 1 }]
			}
		]),
		...range(SIGNS).map((s): CatalogRecord => ({
			record: 'sign',
			code: code('s', s),
			label: `S ${s}`,
			kind: 'symptom'
		})),
		...range(TESTS).map((t): CatalogRecord => ({
			record: 'test',
			code: code('t', t),
			label: `T ${t}`,
			minutes: testMinutes[t] as number,
			outcomes: ['yes', 'no']
		})),
		...range(CREW).map((c): CatalogRecord => ({
			record: 'technician',
			code: code('c', c),
			name: `C ${c}`,
			hourly_cost: Math.round(hourly[c] as number) / 100
		})),
		...range(MODELS).map((m): CatalogRecord => ({
			record: 'model',
			code: code('m', m),
			label: `M ${m}`,
			value: 200
		}))
	]);
	const sets = [
		...range(FAULTS).map((f) => [f]),
		...(second > 0 ? range(FAULTS).flatMap((f) => range(f).map((other) => [other, f])) : [])
	];
	const normal = (weights: number[]) => weights.map((weight) => weight / sumOf(weights));
	const share = normal(prior);
	const setPrior = normal(
		sets.map(([f = 0, other]) =>
			other === undefined
				? (1 - second) * (share[f] as number)
				: 2 * second * (share[f] as number) * (share[other] as number)
		)
	);
	// each fault shows for itself
	const shows = (of: readonly (readonly number[])[], faults: readonly number[], i: number) =>
		1 - faults.reduce((none, f) => none * (1 - ((of[f] as number[])[i] as number)), 1);
	const testsByFault = range(FAULTS).map((f) => tests.map((each) => each[f] as number));
	const says = (faults: readonly number[], t: number) => shows(testsByFault, faults, t);
	const posterior = (seen: Seen) =>
		normal(
			sets.map((faults, k) => {
				let chance = setPrior[k] as number;
				seen.signs.forEach((present, s) => {
					const p = shows(signs, faults, s);
					chance *= present ? p : 1 - p;
				});
				for (const [t, answer] of seen.tests) {
					const p = says(faults, t);
					chance *= answer === 0 ? p : 1 - p;
				}
				return chance;
			})
		);
	/** chance of each fault that it is one of those that are wrong */
	const marginals = (belief: readonly number[]) =>
		range(FAULTS).map((f) =>
			sumOf(sets.map((faults, k) => (faults.includes(f) ? (belief[k] as number) : 0)))
		);
	const drawBy = (dice: Random) =>
		drawIndex(
			dice,
			range(CREW).map((c) => c + 1)
		);
	const attemptOf = (dice: Random, tried: number, left: Set<number>, by: number, model: number) => {
		if (left.has(tried) && dice() < (success[tried] as number)) left.delete(tried);
		return {
			operation: code('o', tried),
			resolved: left.size === 0,
			technician: code('c', by),
			minutes: Math.exp(
				Math.log(median[tried] as number) +
					(pace[by] as number) +
					(ofModel[model] as number) +
					0.3 * drawNormal(dice)
			)
		};
	};
	const ended = (
		tests: ReadonlyMap<number, number>,
		attempts: WalkedJob['attempts'],
		by: number
	): WalkedJob => {
		const tested = sumOf([...tests.keys()].map((t) => testMinutes[t] as number));
		const minutes = tested + sumOf(attempts.map((each) => each.minutes));
		const spent = sumOf(attempts.map(({ operation }) => parts[Number(operation.slice(2))] as number));
		const fixed = attempts.at(-1)?.resolved ?? false;
		return { tests, attempts, fixed, minutes, costMinor: spent + (minutes / 60) * (hourly[by] as number) };
	};
	return {
		catalog,
		sets,
		posterior,
		arrive: (dice) => {
			const faults = sets[drawIndex(dice, setPrior)] as number[];
			const shown = range(SIGNS).map((s) => dice() < shows(signs, faults, s));
			return { faults, seen: { signs: shown, tests: new Map() } };
		},
		walk: (dice, { faults, seen, model }) => {
			const done = new Map(seen.tests);
			for (let t = 0; t < TESTS; t++) {
				const sure = Math.max(...marginals(posterior({ signs: seen.signs, tests: done }))) > SURE;
				if (sure || done.has(t)) continue;
				done.set(t, dice() < says(faults, t) ? 0 : 1);
			}
			let belief = marginals(posterior({ signs: seen.signs, tests: done }));
			const by = drawBy(dice);
			const left = new Set(faults);
			const attempts: WalkedJob['attempts'] = [];
			for (let k = 0; k < MOST_ATTEMPTS * faults.length && left.size > 0; k++) {
				const tried = belief.indexOf(Math.max(...belief));
				attempts.push(attemptOf(dice, tried, left, by, model));
				belief = normal(belief.map((p, f) => (f === tried ? p * (1 - (success[f] as number)) : p)));
			}
			return ended(done, attempts, by);
		},
		known: (dice, faults, model) => {
			const by = drawBy(dice);
			const left = new Set(faults);
			const attempts: WalkedJob['attempts'] = [];
			for (const fault of faults) {
				for (let k = 0; k < 2 && left.has(fault); k++) attempts.push(attemptOf(dice, fault, left, by, model));
				if (left.has(fault)) break;
			}
			return ended(new Map(), attempts, by);
		},
		comebackRate: (operation) => back[Number(operation.slice(2))] as number
	};
}

export const answersOfSeen = (tests: Seen['tests']) =>
	[...tests].map(([t, answer]) => ({ test: code('t', t), outcome: answer === 0 ? 'yes' : 'no' }));

export const evidenceOfSeen = (seen: Seen, model: number): Evidence => ({
	model: code('m', model),
	signs: Object.fromEntries(seen.signs.map((present, s) => [code('s', s), present])),
	inspection: [],
	observations: answersOfSeen(seen.tests).map((answer) => ({ ...answer, stage: 'diagnosis' as const })),
	meter: [],
	battery: [],
	readings: [],
	attempts: []
});

/** What a shop's closed tickets taught: lessons of the odds and sums of the past. */
export function pastOfWalkedShop(
	shop: WalkedShop,
	count: number,
	seed: number
): { lessons: Lesson[]; past: Past } {
	const random = seededRandom(seed);
	const past = emptyPast();
	const lessons: Lesson[] = [];
	for (let i = 0; i < count; i++) {
		const model = Math.floor(random() * MODELS);
		const device = shop.arrive(random);
		const job = shop.walk(random, { ...device, model });
		const faults = device.faults.map((fault) => code('f', fault));
		const evidence = {
			...evidenceOfSeen({ ...device.seen, tests: job.tests }, model),
			attempts: job.attempts
		};
		const lesson = lessonOf({ ...evidence, faults, closedAt: i }, shop.catalog);
		if (lesson) lessons.push(lesson);
		const closed: PastJob = {
			model: code('m', model),
			openedAt: i - 0.5,
			closedAt: i,
			outcome: job.fixed ? 'fixed' : 'not-fixed',
			quotedMinor: null,
			accepted: null,
			paidMinor: null,
			comebackOf: null,
			faults,
			tests: answersOfSeen(job.tests),
			attempts: job.attempts,
			parts: []
		};
		JOBS.add(past, shareOf(closed, shop.catalog));
		const last = job.attempts.at(-1)?.operation ?? '';
		if (job.fixed && random() < shop.comebackRate(last)) {
			const again: PastJob = {
				...closed,
				closedAt: i + 0.5,
				openedAt: i + 0.25,
				outcome: 'not-fixed',
				comebackOf: `K-${i}`,
				earlierVisit: { outcome: 'fixed', closedAt: i },
				fixedBefore: [last],
				faults: null,
				attempts: []
			};
			JOBS.add(past, shareOf(again, shop.catalog));
		}
	}
	return { lessons, past: JOBS.settled(past) };
}
