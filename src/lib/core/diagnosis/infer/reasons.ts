import { addAt, indexAt, itemAt, valueAt } from '../../units/vector';
import type { FaultSet } from '../fault-sets';

export interface Reason {
	evidence: string;
	/** this evidence's share of the odds: the odds before any evidence times all factors are the odds */
	factor: number;
}

/** Chance of a fault before any evidence, and what each piece of evidence made of it. */
export interface Explained {
	usual: number;
	reasons: Reason[];
}

/** Nodes and weights of Gauss and Legendre on 0..1, four to a panel (Abramowitz & Stegun, table 25.4). */
const NODES = [
	[0.0694318442029737, 0.1739274225687269],
	[0.3300094782075719, 0.3260725774312731],
	[0.6699905217924281, 0.3260725774312731],
	[0.9305681557970263, 0.1739274225687269]
] as const;
const PANELS = 3;
/** Below this share of all mass the sets without a fault are summed by themselves: a difference would be rounding alone. */
const NEARLY_ALL = 1e-6;

/**
 * Shares the change of each fault's log odds out among the pieces of evidence: all are let in together, little by little,
 * and each is credited with what it adds on the way (Aumann & Shapley, Values of Non-Atomic Games, 1974). At a moment that is
 * E[log likelihood | fault] − E[log likelihood | no such fault]. The shares add up, and the order of evidence has no effect.
 * @param likelihoods log likelihoods under every set, finite
 * @returns by fault, loudest reason first
 */
export function explain(
	sets: readonly FaultSet[],
	logPrior: Float64Array,
	likelihoods: readonly { evidence: string; logLikelihood: Float64Array }[],
	faults: number
): Explained[] {
	const joint = Float64Array.from(sets, (_, s) =>
		likelihoods.reduce((sum, { logLikelihood }) => sum + valueAt(logLikelihood, s), 0)
	);
	const evidence = laidOut(sets, likelihoods, faults);
	const nothing = { ...evidence, pieces: 0 };
	const baseline = weigh(logPrior, joint, 0, nothing);
	const tempered = weigh(logPrior, joint, 1, nothing);
	const shares = Array.from({ length: faults }, () => new Float64Array(likelihoods.length));
	for (let panel = 0; panel < PANELS; panel++) {
		for (const [node, weight] of NODES) {
			const { credits } = weigh(logPrior, joint, (panel + node) / PANELS, evidence);
			shares.forEach((share, f) => {
				for (let e = 0; e < share.length; e++) {
					addAt(share, e, (weight / PANELS) * valueAt(credits, f * evidence.pieces + e));
				}
			});
		}
	}
	return shares.map((share, f) => {
		const usual = valueAt(baseline.logOdds, f);
		settle(share, valueAt(tempered.logOdds, f) - usual);
		// an operation that was tried twice is one reason
		const together = new Map<string, number>();
		likelihoods.forEach(({ evidence }, e) =>
			together.set(evidence, (together.get(evidence) ?? 0) + valueAt(share, e))
		);
		const reasons = [...together].map(([evidence, log]) => ({ evidence, factor: Math.exp(log) }));
		return {
			usual: 1 / (1 + Math.exp(-usual)),
			reasons: reasons.sort((a, b) => loudness(b) - loudness(a) || (a.evidence < b.evidence ? -1 : 1))
		};
	});
}

const loudness = ({ factor }: Reason) => Math.abs(Math.log(factor));

/** What the quadrature left over goes to the shares in proportion to their size, so that they add up to the last digit. */
function settle(share: Float64Array, total: number): void {
	const residue = total - share.reduce((sum, value) => sum + value, 0);
	const size = share.reduce((sum, value) => sum + Math.abs(value), 0);
	if (size === 0) return;
	for (let e = 0; e < share.length; e++) {
		addAt(share, e, (residue * Math.abs(valueAt(share, e))) / size);
	}
}

/** What the pieces of evidence say, laid out for the sums over sets, which take most of the time that odds take. */
interface LaidOut {
	/** number of pieces, filled up with silent ones to whole blocks */
	pieces: number;
	/** set by set, what each piece says */
	logs: Float64Array;
	/** places of all sets, and by fault of those with it and of those without */
	all: Int32Array;
	having: Int32Array[];
	lacking: (fault: number) => Int32Array;
}

/** Pieces that are summed beside each other, each in a variable of its own. */
const BLOCK = 4;

function laidOut(
	sets: readonly FaultSet[],
	likelihoods: readonly { logLikelihood: Float64Array }[],
	faults: number
): LaidOut {
	const pieces = Math.ceil(likelihoods.length / BLOCK) * BLOCK;
	const logs = new Float64Array(sets.length * pieces);
	likelihoods.forEach(({ logLikelihood }, e) =>
		logLikelihood.forEach((log, s) => (logs[s * pieces + e] = log))
	);
	const having: number[][] = Array.from({ length: faults }, () => []);
	sets.forEach((set, s) => set.forEach((fault) => itemAt(having, fault).push(s)));
	return {
		pieces,
		logs,
		all: Int32Array.from(sets.keys()),
		having: having.map((places) => Int32Array.from(places)),
		lacking: (fault) => Int32Array.from(sets.flatMap((set, s) => (set.includes(fault) ? [] : s)))
	};
}

/** Below this a weight is nothing: numbers so small are many times slower to reckon with. */
const NOTHING = 1e-290;

/** Log odds of each fault with all evidence let in as far as `part`, and what each piece would add with a little more of all. */
function weigh(
	logPrior: Float64Array,
	joint: Float64Array,
	part: number,
	evidence: LaidOut
): { logOdds: Float64Array; credits: Float64Array } {
	const { pieces, all, having, lacking } = evidence;
	const weights = logPrior.map((log, s) => log + part * valueAt(joint, s));
	const maximum = weights.reduce((largest, log) => Math.max(largest, log), -Infinity);
	for (let s = 0; s < weights.length; s++) {
		const weight = Math.exp(valueAt(weights, s) - maximum);
		weights[s] = weight < NOTHING ? 0 : weight;
	}
	const total = massOf(all, weights);
	const overall = creditsOf(all, weights, evidence);
	const logOdds = new Float64Array(having.length);
	const credits = new Float64Array(having.length * pieces);
	having.forEach((places, fault) => {
		const mass = massOf(places, weights);
		const credited = creditsOf(places, weights, evidence);
		let rest = total - mass;
		let uncredited: Float64Array = overall.map((sum, e) => sum - valueAt(credited, e));
		if (rest < NEARLY_ALL * total) {
			const without = lacking(fault);
			rest = massOf(without, weights);
			uncredited = creditsOf(without, weights, evidence);
		}
		logOdds[fault] = Math.log(Math.max(1e-300, mass)) - Math.log(Math.max(1e-300, rest));
		if (mass <= 0 || rest <= 0) return;
		for (let e = 0; e < pieces; e++) {
			credits[fault * pieces + e] = valueAt(credited, e) / mass - valueAt(uncredited, e) / rest;
		}
	});
	return { logOdds, credits };
}

function massOf(places: Int32Array, weights: Float64Array): number {
	let mass = 0;
	for (let i = 0; i < places.length; i++) mass += valueAt(weights, indexAt(places, i));
	return mass;
}

/** By piece, what it says of some sets by their weights. Block by block: sums in variables take a third of the time of sums in arrays. */
function creditsOf(places: Int32Array, weights: Float64Array, { pieces, logs }: LaidOut): Float64Array {
	const credits = new Float64Array(pieces);
	for (let e = 0; e < pieces; e += BLOCK) {
		let [first, second, third, fourth] = [0, 0, 0, 0];
		for (let i = 0; i < places.length; i++) {
			const s = indexAt(places, i);
			const weight = valueAt(weights, s);
			const at = s * pieces + e;
			first += weight * valueAt(logs, at);
			second += weight * valueAt(logs, at + 1);
			third += weight * valueAt(logs, at + 2);
			fourth += weight * valueAt(logs, at + 3);
		}
		credits.set([first, second, third, fourth], e);
	}
	return credits;
}
