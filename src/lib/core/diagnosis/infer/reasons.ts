import { addAt, itemAt, valueAt } from '../../units/vector';
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
	// set by set, what each piece says: the innermost loop runs along it
	const logs = new Float64Array(sets.length * likelihoods.length);
	likelihoods.forEach(({ logLikelihood }, e) =>
		logLikelihood.forEach((log, s) => (logs[s * likelihoods.length + e] = log))
	);
	const nothing = new Float64Array(0);
	const baseline = weigh(sets, logPrior, joint, 0, nothing, faults);
	const tempered = weigh(sets, logPrior, joint, 1, nothing, faults);
	const shares = Array.from({ length: faults }, () => new Float64Array(likelihoods.length));
	for (let panel = 0; panel < PANELS; panel++) {
		for (const [node, weight] of NODES) {
			const { credits } = weigh(sets, logPrior, joint, (panel + node) / PANELS, logs, faults);
			shares.forEach((share, f) => {
				for (let e = 0; e < share.length; e++) {
					addAt(share, e, (weight / PANELS) * valueAt(credits, f * share.length + e));
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

/**
 * Log odds of each fault with all evidence let in as far as `part`, and what each piece would add with a little more of all.
 * @param logs set by set, what each piece of evidence says; empty where only the odds are wanted
 */
function weigh(
	sets: readonly FaultSet[],
	logPrior: Float64Array,
	joint: Float64Array,
	part: number,
	logs: Float64Array,
	faults: number
): { logOdds: Float64Array; credits: Float64Array } {
	const pieces = logs.length / sets.length;
	const weights = logPrior.map((log, s) => log + part * valueAt(joint, s));
	const maximum = weights.reduce((most, log) => Math.max(most, log), -Infinity);
	for (let s = 0; s < weights.length; s++) weights[s] = Math.exp(valueAt(weights, s) - maximum);
	let total = 0;
	const mass = new Float64Array(faults);
	const overall = new Float64Array(pieces);
	const faultSums = new Float64Array(faults * pieces);
	const row = new Float64Array(pieces);
	for (let s = 0; s < sets.length; s++) {
		const weight = valueAt(weights, s);
		total += weight;
		const at = s * pieces;
		for (let e = 0; e < pieces; e++) {
			const credit = weight * valueAt(logs, at + e);
			row[e] = credit;
			addAt(overall, e, credit);
		}
		const set = itemAt(sets, s);
		for (let i = 0; i < set.length; i++) {
			const fault = set[i] as number;
			addAt(mass, fault, weight);
			const offset = fault * pieces;
			for (let e = 0; e < pieces; e++) {
				addAt(faultSums, offset + e, valueAt(row, e));
			}
		}
	}
	const logOdds = new Float64Array(faults);
	const credits = new Float64Array(faults * pieces);
	for (let fault = 0; fault < faults; fault++) {
		const faultMass = valueAt(mass, fault);
		let rest = total - faultMass;
		let otherMass = (e: number) => valueAt(overall, e) - valueAt(faultSums, fault * pieces + e);
		if (rest < NEARLY_ALL * total) {
			const excluding = sets.flatMap((set, s) => (set.includes(fault) ? [] : s));
			rest = excluding.reduce((sum, s) => sum + valueAt(weights, s), 0);
			otherMass = (e) =>
				excluding.reduce((sum, s) => sum + valueAt(weights, s) * valueAt(logs, s * pieces + e), 0);
		}
		logOdds[fault] = Math.log(Math.max(1e-300, faultMass)) - Math.log(Math.max(1e-300, rest));
		if (faultMass <= 0 || rest <= 0) continue;
		for (let e = 0; e < pieces; e++) {
			credits[fault * pieces + e] = valueAt(faultSums, fault * pieces + e) / faultMass - otherMass(e) / rest;
		}
	}
	return { logOdds, credits };
}
