import { buildCatalog, type Catalog } from '$lib/core/catalog/catalog';
import type { CatalogRecord } from '$lib/core/catalog/kinds';
import { SHOWS } from '$lib/core/charging/power-path';
import { engineOf } from '$lib/core/diagnosis/engine';
import { inferOdds } from '$lib/core/diagnosis/infer/odds';
import type { Answer, Features } from '$lib/core/diagnosis/learn/evidence';
import { learn, type Learned, type Lesson } from '$lib/core/diagnosis/learn/learn';
import { logCost } from '$lib/core/statistics/proper-scores';
import { CONTACT_STATES, NODE_VERDICTS } from '$lib/core/units/seen-codes';
import { drawIndex, type Random } from '$lib/core/units/random';
import {
	baseMarginals,
	deviceFeatures,
	deviceLesson,
	drawDevice,
	drawDirichlet,
	exactSets,
	makeWorld,
	testChances,
	worldCatalog,
	type Device,
	type World,
	type WorldKind
} from './engine-world';

/**
 * Invented shops that measure: devices have a charging path that is probed and a port that is looked at, and after a repair
 * that failed they are tested again. All by known laws, so that the exact posterior is found by enumeration.
 */
export interface MeasuredWorld {
	world: World;
	/** by node of the path, the faults that break the stretch before it */
	path: number[][];
	/** chances of CONTACT_STATES: usually, and by fault */
	look: { usual: number[]; of: number[][] };
}

export interface MeasuredDevice {
	device: Device;
	measured: Answer[];
	/** a repair that failed, what it left, and what was tested after it; null where none was tried or it helped */
	after: { operation: number; left: number[]; answers: (readonly [test: number, outcome: number])[] } | null;
}

const NODES = 6;
const PROBED = 0.5;
const LOOKED = 0.5;

function makeMeasuredWorld(random: Random, kind: WorldKind): MeasuredWorld {
	const world = makeWorld(random, kind);
	// half of the faults sit on the path, one or two to a stretch
	const path = Array.from({ length: NODES }, (_, k) =>
		(k < NODES / 2 ? [k, k + NODES] : [k]).filter((f) => f < 8)
	);
	const usual = drawDirichlet(
		random,
		CONTACT_STATES.map((_, k) => (k === 0 ? 12 : 0.4))
	);
	const of = world.faults.map(() =>
		random() < 0.3
			? drawDirichlet(
					random,
					CONTACT_STATES.map((_, k) => (k === 0 ? 0.6 : 1))
				)
			: drawDirichlet(
					random,
					usual.map((chance) => 0.05 + 150 * chance)
				)
	);
	return { world, path, look: { usual, of } };
}

const measuredCatalog = ({ world, path }: MeasuredWorld): CatalogRecord[] =>
	worldCatalog(world).map((record) =>
		record.record === 'model'
			? {
					...record,
					path: path.map((faults, k) => ({
						node: `n${k}`,
						label: `Node ${k}`,
						volts: { low: 4.7, high: 5.3 },
						faults: faults.map((fault) => world.faults[fault] as string)
					}))
				}
			: record
	);

/** Chances of NODE_VERDICTS at a node: the worst that any of the faults does to it. */
function nodeChances({ path }: MeasuredWorld, node: number, faults: readonly number[]): number[] {
	const plain = NODE_VERDICTS.map((verdict) => SHOWS[verdict].before);
	if (faults.length === 0) return plain;
	const each = faults.map((fault) => {
		const breaks = path.findIndex((stretch) => stretch.includes(fault));
		return NODE_VERDICTS.map(
			(verdict) => SHOWS[verdict][breaks >= 0 && breaks <= node ? 'behind' : 'before']
		);
	});
	const upTo = (k: number) =>
		each.reduce((product, of) => product * of.slice(0, k + 1).reduce((sum, chance) => sum + chance, 0), 1);
	return NODE_VERDICTS.map((_, k) => upTo(k) - (k > 0 ? upTo(k - 1) : 0));
}

/** Under two faults the look is that of the one that departs most from what is usual. */
function lookChances({ look: { usual, of } }: MeasuredWorld, faults: readonly number[]): number[] {
	const departs = (p: readonly number[]) =>
		p.reduce((sum, x, i) => sum + (x > 0 ? x * Math.log(x / Math.max(1e-9, usual[i] as number)) : 0), 0);
	return faults.reduce<number[]>((told, fault, i) => {
		const own = of[fault] as number[];
		return i === 0 || departs(own) > departs(told) ? own : told;
	}, usual);
}

function chanceOf(measured: MeasuredWorld, { question, answer }: Answer, faults: readonly number[]): number {
	return question.startsWith('path:')
		? (nodeChances(measured, Number(question.slice(6)), faults)[
				(NODE_VERDICTS as readonly string[]).indexOf(answer)
			] as number)
		: (lookChances(measured, faults)[(CONTACT_STATES as readonly string[]).indexOf(answer)] as number);
}

function drawMeasured(random: Random, measured: MeasuredWorld, tries: boolean): MeasuredDevice {
	const { world } = measured;
	const device = drawDevice(random, world);
	const { faults, model } = device;
	const answers: Answer[] = [];
	for (let node = 0; node < NODES; node++) {
		if (random() > PROBED) continue;
		const verdict = NODE_VERDICTS[drawIndex(random, nodeChances(measured, node, faults))] as string;
		answers.push({ question: `path:n${node}`, answer: verdict });
	}
	if (random() < LOOKED) {
		const state = CONTACT_STATES[drawIndex(random, lookChances(measured, faults))] as string;
		answers.push({ question: 'look:contacts', answer: state });
	}
	return { device, measured: answers, after: tries ? tryOnce(random, world, faults, model) : null };
}

/** A repair that addresses one of the faults more often than not, and tests after it where the did not fix it. */
function tryOnce(
	random: Random,
	world: World,
	faults: readonly number[],
	model: number
): MeasuredDevice['after'] {
	const addressing = world.operations.flatMap(({ fixes }, i) =>
		fixes.some((f) => faults.includes(f)) ? [i] : []
	);
	const operation =
		addressing.length > 0 && random() < 0.6
			? (addressing[Math.floor(random() * addressing.length)] as number)
			: Math.floor(random() * world.operations.length);
	const { fixes, success } = world.operations[operation] as World['operations'][number];
	const works = random() < success;
	const left = works ? faults.filter((fault) => !fixes.includes(fault)) : [...faults];
	if (left.length === 0 && faults.length > 0) return null;
	const answers = world.tests.flatMap((_, t) =>
		random() < world.testedShare ? [[t, drawIndex(random, testChances(world, t, left, model))] as const] : []
	);
	return { operation, left, answers };
}

/** Exact chance that each fault is present now, by every set at first and both courses of the repair. */
export function exactNow(
	measured: MeasuredWorld,
	{ device, measured: answers, after }: MeasuredDevice
): number[] {
	const { world } = measured;
	const now = world.faults.map(() => 0);
	let total = 0;
	for (const { faults, chance } of exactSets(world, device)) {
		const before = answers.reduce((product, answer) => product * chanceOf(measured, answer, faults), chance);
		for (const { left, chance: course } of coursesOf(world, faults, after)) {
			const weight = before * course;
			total += weight;
			for (const fault of left) now[fault] = (now[fault] as number) + weight;
		}
	}
	return now.map((weight) => weight / total);
}

function coursesOf(
	world: World,
	faults: readonly number[],
	after: MeasuredDevice['after']
): { left: readonly number[]; chance: number }[] {
	if (!after) return [{ left: faults, chance: 1 }];
	const { fixes, success } = world.operations[after.operation] as World['operations'][number];
	const rest = faults.filter((fault) => !fixes.includes(fault));
	const courses =
		rest.length === faults.length
			? [{ left: faults, chance: 1 }]
			: [
					{ left: faults, chance: 1 - success },
					...(rest.length > 0 ? [{ left: rest, chance: success }] : [])
				];
	return courses.map(({ left, chance }) => ({
		left,
		chance: after.answers.reduce(
			(product, [t, o]) => product * (testChances(world, t, left)[o] as number),
			chance
		)
	}));
}

function featuresOf({ world }: MeasuredWorld, { device, measured, after }: MeasuredDevice): Features {
	const plain = deviceFeatures(world, device);
	const answers = [...plain.answers, ...measured];
	if (!after) return { ...plain, answers };
	const code = world.operations[after.operation]?.code as string;
	return {
		...plain,
		answers,
		attempts: [{ operation: code, resolved: false }],
		since: [
			{
				attempts: 1,
				answers: after.answers.map(([test, outcome]) => ({
					question: world.tests[test]?.code as string,
					answer: world.tests[test]?.outcomes[outcome] as string
				}))
			}
		]
	};
}

/** What closed tickets of such a shop teach. */
function learnMeasured(measured: MeasuredWorld, devices: readonly MeasuredDevice[]): Learned {
	return learn(
		devices.map((each): Lesson => {
			const lesson = deviceLesson(measured.world, each.device);
			return { ...lesson, features: { ...lesson.features, answers: featuresOf(measured, each).answers } };
		})
	);
}

/** (score − optimum) / (the models' plain rates − optimum), scores the mean log cost of all faults' chances now. */
export function measuredRegret(
	measured: MeasuredWorld,
	catalog: Catalog,
	learned: Learned,
	held: readonly MeasuredDevice[]
): number {
	const { world } = measured;
	const base = world.models.map((_, m) => baseMarginals(world, m));
	const engine = engineOf(catalog, learned);
	let [score, optimum, rate] = [0, 0, 0];
	for (const each of held) {
		const exact = exactNow(measured, each);
		const { odds } = inferOdds(
			engine,
			world.models[each.device.model]?.code as string,
			featuresOf(measured, each)
		);
		const chance = new Map(odds.faults.map(({ code, probability }) => [code, probability]));
		const present = each.after?.left ?? each.device.faults;
		world.faults.forEach((code, f) => {
			const here = present.includes(f);
			score += logCost([chance.get(code) as number, here]);
			optimum += logCost([exact[f] as number, here]);
			rate += logCost([base[each.device.model]?.[f] as number, here]);
		});
	}
	return (score - optimum) / (rate - optimum);
}

/** A measured shop with its history and devices held back, one part of which a repair has failed on. */
export function measuredShop(random: Random, kind: WorldKind, size: number, held: number) {
	const measured = makeMeasuredWorld(random, kind);
	const catalog = buildCatalog(measuredCatalog(measured));
	const history = Array.from({ length: size }, () => drawMeasured(random, measured, false));
	const fresh = Array.from({ length: held }, () => drawMeasured(random, measured, false));
	const failed: MeasuredDevice[] = [];
	while (failed.length < held) {
		const each = drawMeasured(random, measured, true);
		if (each.after) failed.push(each);
	}
	return { measured, catalog, learned: learnMeasured(measured, history), fresh, failed };
}
