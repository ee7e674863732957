import type { CatalogRecord } from '$lib/core/catalog/kinds';
import type { Features } from '$lib/core/diagnosis/learn/evidence';
import type { Lesson } from '$lib/core/diagnosis/learn/learn';
import { DAY_MS } from '$lib/core/units/instant';
import { drawIndex, drawNormal, type Random } from '$lib/core/units/random';

/**
 * Invented shops whose truth is known: catalog, devices with hidden sets of faults, signs, tests, repairs. The exact
 * posterior of a device's evidence is found by enumeration over the same truth, so that an engine's odds can be held
 * against the best that any engine could say.
 */
export interface World {
	kind: WorldKind;
	faults: string[];
	models: { code: string; family: string }[];
	signs: string[];
	tests: { code: string; outcomes: string[]; minutes: number }[];
	operations: { code: string; fixes: number[]; success: number; minutes: number }[];
	/** by model: how often each fault is met, summing to 1 */
	shares: number[][];
	sizes: [number, number, number];
	leaks: number[];
	/** by sign and fault */
	links: number[][];
	/** by test: outcome chances without a telling fault, and by fault */
	background: number[][];
	outcomes: number[][][];
	askedShare: number;
	testedShare: number;
	/** by pair of faults: how much more often they come together than by their shares */
	lifts: number[][] | null;
	/** shares of each model before the last quarter of the history; the same throughout without */
	earlyShares: number[][] | null;
	/** by test: an earlier test whose answer it repeats more often than not; -1 where it answers for itself */
	repeats: number[];
	/** models with answers of their own: by model, then as `links` and `outcomes`; all alike without */
	own: Pick<World, 'links' | 'outcomes'>[] | null;
}

/** What a world is made like: as the engine assumes, with more or less to be heard. */
export const WORLD_KINDS = ['plain', 'chatty', 'sparse', 'clustered'] as const;
/**
 * Worlds that break an assumption: faults that come together, a bad batch in the last quarter of the history, models that
 * answer in their own way, tests that repeat one another.
 */
export const ODD_KINDS = ['coupled', 'drifting', 'deviating', 'repeating'] as const;
export type WorldKind = (typeof WORLD_KINDS)[number] | (typeof ODD_KINDS)[number];

/** A test that repeats another does so this often. */
const REPEATED = 0.7;

const pick = (random: Random, low: number, high: number) => low + (high - low) * random();

/** Dirichlet by gamma draws (Marsaglia & Tsang, ACM TOMS 26, 2000; boosted below 1). */
export function drawDirichlet(random: Random, weights: readonly number[]): number[] {
	const draws = weights.map((weight) => drawGamma(random, weight));
	const total = draws.reduce((sum, value) => sum + value, 0);
	return draws.map((value) => value / total);
}

function drawGamma(random: Random, shape: number): number {
	if (shape < 1) return drawGamma(random, shape + 1) * Math.max(1e-12, random()) ** (1 / shape);
	const d = shape - 1 / 3;
	const c = 1 / Math.sqrt(9 * d);
	for (;;) {
		const x = drawNormal(random);
		const v = (1 + c * x) ** 3;
		if (v > 0 && Math.log(Math.max(1e-300, random())) < 0.5 * x * x + d - d * v + d * Math.log(v))
			return d * v;
	}
}

export function makeWorld(random: Random, kind: WorldKind): World {
	const faults = Array.from({ length: 12 }, (_, i) => `f${i}`);
	const models = Array.from({ length: 10 }, (_, i) => ({ code: `m${i}`, family: `fam${i % 3}` }));
	const signs = Array.from({ length: 16 }, (_, i) => `s${i}`);
	const shop = drawDirichlet(
		random,
		faults.map(() => 1.2)
	);
	const familySpread = kind === 'clustered' ? 8 : 30;
	const families = [0, 1, 2].map(() =>
		drawDirichlet(
			random,
			shop.map((share) => Math.max(0.05, share * familySpread))
		)
	);
	const shares = models.map((_, i) =>
		drawDirichlet(
			random,
			(families[i % 3] as number[]).map((share) => Math.max(0.03, share * familySpread * 1.5))
		)
	);
	const relevance = kind === 'chatty' ? 0.45 : kind === 'sparse' ? 0.15 : 0.28;
	const leaks = signs.map(() => pick(random, 0.02, 0.2));
	const links = signs.map(() =>
		faults.map(() => (random() < relevance ? pick(random, 0.2, 0.9) : pick(random, 0, 0.05)))
	);
	const tests = Array.from({ length: 16 }, (_, i) => ({
		code: `t${i}`,
		outcomes: Array.from({ length: random() < 0.6 ? 2 : 3 }, (_, k) => `o${k}`),
		minutes: Math.round(pick(random, 2, 15))
	}));
	const background = tests.map(({ outcomes }) =>
		drawDirichlet(
			random,
			outcomes.map((_, k) => (k === 0 ? 9 : 0.7))
		)
	);
	const outcomes = tests.map(({ outcomes }, t) =>
		faults.map(() =>
			random() < relevance * 0.7
				? drawDirichlet(
						random,
						outcomes.map((_, k) => (k === 0 ? 0.6 : 1.6))
					)
				: drawDirichlet(
						random,
						(background[t] as number[]).map((chance) => 0.05 + 150 * chance)
					)
		)
	);
	const operations = Array.from({ length: 10 }, (_, i) => ({
		code: `op${i}`,
		fixes: i < 2 ? [i, i + 10] : [i],
		success: pick(random, 0.75, 0.97),
		minutes: Math.round(pick(random, 10, 75))
	}));
	// drawn last and for odd kinds alone: other worlds stay as their seed made them
	const odd = oddities(random, kind, { shares, tests, links, outcomes });
	return {
		...odd,
		kind,
		faults,
		models,
		signs,
		tests,
		operations,
		shares,
		sizes: [0.03, 0.85, 0.12],
		leaks,
		links,
		background,
		outcomes,
		askedShare: 0.7,
		testedShare: kind === 'sparse' ? 0.15 : 0.28
	};
}

/** What sets an odd world apart. */
function oddities(
	random: Random,
	kind: WorldKind,
	{ shares, tests, links, outcomes }: Pick<World, 'shares' | 'tests' | 'links' | 'outcomes'>
): Pick<World, 'lifts' | 'earlyShares' | 'repeats' | 'own'> {
	const plain = { lifts: null, earlyShares: null, repeats: tests.map(() => -1), own: null };
	if (kind === 'deviating') {
		// one question in four has answers of its own on a model, under one fault in three
		const deviates = () => random() < 1 / 4;
		const other = <Row>(rows: Row[], draw: (row: Row) => Row) => {
			const own = deviates();
			return rows.map((row) => (own && random() < 1 / 3 ? draw(row) : row));
		};
		const own = shares.map(() => ({
			links: links.map((of) => other(of, () => pick(random, 0, 0.95))),
			outcomes: outcomes.map((of) =>
				other(of, (row) =>
					drawDirichlet(
						random,
						row.map(() => 0.8)
					)
				)
			)
		}));
		return { ...plain, own };
	}
	if (kind === 'coupled') {
		const n = shares[0]?.length ?? 0;
		const lifts = Array.from({ length: n }, () => new Array<number>(n).fill(1));
		for (let a = 0; a + 1 < n; a += 2) (lifts[a] as number[])[a + 1] = 8;
		return { ...plain, lifts };
	}
	if (kind === 'drifting') {
		// the batch: one fault in three models, four times as often at the end as before
		const batch = Math.floor(random() * (shares[0]?.length ?? 1));
		const earlyShares = shares.map((of, m) => {
			if (m > 2) return of;
			const early = [...of];
			of[batch] = 0.35 + 0.2 * random();
			const rest = of.reduce((sum, share, f) => (f === batch ? sum : sum + share), 0);
			const left = 1 - (of[batch] as number);
			of.forEach((share, f) => {
				if (f !== batch) of[f] = (share * left) / rest;
			});
			return early;
		});
		return { ...plain, earlyShares };
	}
	if (kind === 'repeating') {
		return { ...plain, repeats: tests.map((_, t) => (t % 2 === 1 ? t - 1 : -1)) };
	}
	return plain;
}

export function worldCatalog(world: World): CatalogRecord[] {
	return [
		...world.faults.map((code): CatalogRecord => ({ record: 'fault', code, label: code })),
		...world.signs.map((code): CatalogRecord => ({ record: 'sign', code, label: code, kind: 'symptom' })),
		...world.tests.map((test): CatalogRecord => ({ record: 'test', label: test.code, ...test })),
		...world.operations.map(({ fixes, ...operation }): CatalogRecord => ({
			record: 'operation',
			label: operation.code,
			...operation,
			fixes: fixes.map((fault) => world.faults[fault] as string)
		})),
		...world.models.map(({ code, family }): CatalogRecord => ({
			record: 'model',
			code,
			label: code,
			family
		})),
		{ record: 'technician', code: 'tech', name: 'Tech', hourly_cost: 30 }
	];
}

export interface Device {
	model: number;
	faults: number[];
	/** what was confirmed: the truth, or now and then not */
	confirmed: number[];
	signs: (readonly [sign: number, present: boolean])[];
	answers: (readonly [test: number, outcome: number])[];
}

/** @param when place in the history, 0 its beginning, 1 its end */
export function drawDevice(random: Random, world: World, wrongShare = 0, when = 1): Device {
	const model = Math.floor(random() * world.models.length);
	const early = when < 0.75 ? world.earlyShares : null;
	const shares = (early ?? world.shares)[model] as number[];
	const size = drawIndex(random, world.sizes);
	const faults: number[] = size === 2 && world.lifts ? drawPair(random, shares, world.lifts) : [];
	const left = [...shares];
	for (let i = faults.length; i < size; i++) {
		const fault = drawIndex(random, left);
		faults.push(fault);
		left[fault] = 0;
	}
	faults.sort((a, b) => a - b);
	const signs = world.signs.flatMap((_, s) =>
		random() < world.askedShare ? [[s, random() < signChance(world, s, faults, model)] as const] : []
	);
	const seen = signs.filter(([, present]) => present).length;
	const answers: [test: number, outcome: number][] = [];
	world.tests.forEach((_, t) => {
		// more is tested where little was seen: the choice depends on what is known already
		const chance = world.testedShare * (seen < 3 ? 1.4 : 0.8);
		if (random() < chance)
			answers.push([t, drawIndex(random, answerGiven(world, t, faults, answers, model))]);
	});
	const wrong = random() < wrongShare && faults.length > 0;
	const confirmed = wrong ? [Math.floor(random() * world.faults.length)] : faults;
	return { model, faults, confirmed, signs, answers };
}

/** @param model whose own answers count; what is usual without */
export function signChance(world: World, sign: number, faults: readonly number[], model = -1): number {
	const links = (world.own?.[model] ?? world).links[sign];
	return (
		1 - faults.reduce((absent, fault) => absent * (1 - (links?.[fault] ?? 0)), 1 - (world.leaks[sign] ?? 0))
	);
}

const divergence = (p: readonly number[], q: readonly number[]) =>
	p.reduce((sum, x, i) => sum + (x > 0 ? x * Math.log(x / Math.max(1e-9, q[i] ?? 0)) : 0), 0);

/** Under two faults the outcome is that of the fault that departs most from the background. */
export function testChances(world: World, test: number, faults: readonly number[], model = -1): number[] {
	const { outcomes } = world.own?.[model] ?? world;
	const plain = world.background[test] as number[];
	const [first, ...rest] = faults;
	if (first === undefined) return plain;
	const of = (fault: number) => outcomes[test]?.[fault] as number[];
	return rest.reduce(
		(told, fault) => (divergence(of(fault), plain) > divergence(told, plain) ? of(fault) : told),
		of(first)
	);
}

/** Chances of a test's answers where others are known: a test that repeats another mostly says the same. */
function answerGiven(
	world: World,
	test: number,
	faults: readonly number[],
	answers: readonly (readonly [test: number, outcome: number])[],
	model: number
): number[] {
	const own = testChances(world, test, faults, model);
	const first = world.repeats[test] as number;
	if (first < 0) return own;
	const last = own.length - 1;
	const known = answers.find(([t]) => t === first)?.[1];
	const said = known === undefined ? testChances(world, first, faults, model) : null;
	return own.map((chance, o) => {
		const same = said
			? said.reduce((sum, p, k) => (Math.min(k, last) === o ? sum + p : sum), 0)
			: Math.min(known as number, last) === o
				? 1
				: 0;
		return REPEATED * same + (1 - REPEATED) * chance;
	});
}

/** Chances of all pairs, by (first · faults + second), where some come together more often than by their shares. */
function pairWeights(shares: readonly number[], lifts: readonly (readonly number[])[]): number[] {
	const weights = shares.flatMap((p, a) => shares.map((q, b) => (a < b ? p * q * (lifts[a]?.[b] ?? 1) : 0)));
	const total = weights.reduce((sum, weight) => sum + weight, 0);
	return weights.map((weight) => weight / total);
}

function drawPair(random: Random, shares: readonly number[], lifts: World['lifts'] & object): number[] {
	const at = drawIndex(random, pairWeights(shares, lifts));
	return [Math.floor(at / shares.length), at % shares.length];
}

/** Exact chances of every set of up to two faults, by enumeration; they sum to 1. */
export function exactSets(
	world: World,
	{ model, signs, answers }: Device
): { faults: number[]; chance: number }[] {
	const n = world.faults.length;
	const shares = world.shares[model] as number[];
	const sets: { faults: number[]; chance: number }[] = [];
	const weigh = (faults: number[], prior: number) => {
		let chance = prior;
		for (const [s, present] of signs) {
			const p = signChance(world, s, faults, model);
			chance *= present ? p : 1 - p;
		}
		for (const [t, o] of answers) chance *= answerGiven(world, t, faults, answers, model)[o] as number;
		sets.push({ faults, chance });
	};
	const pairs = world.lifts ? pairWeights(shares, world.lifts) : null;
	weigh([], world.sizes[0]);
	for (let a = 0; a < n; a++) {
		weigh([a], world.sizes[1] * (shares[a] as number));
		for (let b = a + 1; b < n; b++) {
			const [p, q] = [shares[a] as number, shares[b] as number];
			const together = pairs ? (pairs[a * n + b] as number) : p * (q / (1 - p)) + q * (p / (1 - q));
			weigh([a, b], world.sizes[2] * together);
		}
	}
	const total = sets.reduce((sum, { chance }) => sum + chance, 0);
	return sets.map(({ faults, chance }) => ({ faults, chance: chance / total }));
}

/** Exact chance that each fault is present. */
export function exactMarginals(world: World, device: Device): { marginals: number[]; top: number } {
	const marginals = new Array<number>(world.faults.length).fill(0);
	for (const { faults, chance } of exactSets(world, device)) {
		for (const fault of faults) marginals[fault] = (marginals[fault] as number) + chance;
	}
	return { marginals, top: marginals.indexOf(Math.max(...marginals)) };
}

/** How often each fault is present on a model's devices, whatever the evidence. */
export function baseMarginals({ shares, sizes, lifts }: World, model: number): number[] {
	const of = shares[model] as number[];
	const n = of.length;
	const pairs = lifts ? pairWeights(of, lifts) : null;
	return of.map((p, f) => {
		if (pairs) {
			const paired = of.reduce(
				(sum, _, g) => sum + (pairs[Math.min(f, g) * n + Math.max(f, g)] as number),
				0
			);
			return sizes[1] * p + sizes[2] * paired;
		}
		const paired = of.reduce((sum, q, g) => (g === f ? sum : sum + q * (p / (1 - q)) + p * (q / (1 - p))), 0);
		return sizes[1] * p + sizes[2] * paired;
	});
}

/** A device's evidence as the engine reads it. */
export const deviceFeatures = (world: World, { signs, answers }: Device): Features => ({
	signs: signs.map(([sign, present]) => [world.signs[sign] as string, present] as const),
	answers: answers.map(([test, outcome]) => ({
		question: world.tests[test]?.code as string,
		answer: world.tests[test]?.outcomes[outcome] as string
	})),
	attempts: []
});

/** @param when place in the history, told to the engine as a day of three years */
export const deviceLesson = (world: World, device: Device, when = 0): Lesson => ({
	closedAt: Math.floor(when * 1095) * DAY_MS,
	model: world.models[device.model]?.code as string,
	faults: device.confirmed.map((fault) => world.faults[fault] as string),
	features: deviceFeatures(world, device),
	tried: []
});
