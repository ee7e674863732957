import { codeEntry } from '../../units/code';
import { sumOf } from '../../statistics/sum';
import { itemAt } from '../../units/vector';
import type { Engine } from '../engine';
import type { FaultSet } from '../fault-sets';
import { faultsOfKey } from '../learn/learn';
import { EARLIER } from '../learn/evidence-words';
import type { EarlierWork } from '../learn/earlier-work';
import type { Features } from '../learn/evidence';
import { faultShares, type EvidenceLikelihood } from './beliefs';

/** Up to the first a comeback is of the earlier work; from the second on another fault is twice as likely. Common practice, no source. */
const SOON_DAYS = 30;
const LATE_DAYS = 90;
const MOST_OTHER = 0.95;

/** A repair that failed at once speaks of itself as a comeback does, but for this share: it may have been the wrong one. A choice. */
const FAILED_SHARE = 0.5;

/** What a comeback's belief weighs where it does not say so, in comebacks. The trade's rule: twenty. */
const BELIEF_WEIGHT = 20;

/**
 * A device that comes back after the shop's own work: shares of what is found then, as the catalog believes them and the shop's own
 * comebacks teach them, over the usual ones. Of several repairs the last one with a belief speaks; one that failed on
 * this very ticket speaks in part.
 */
export function comebackLikelihoods(
	engine: Engine,
	sets: readonly FaultSet[],
	model: string,
	{ earlier = [], attempts }: Pick<Features, 'earlier' | 'attempts'>
): EvidenceLikelihood[] {
	const beliefs = engine.catalog.records['comeback-belief'];
	const back = earlier.findLast(({ operation, resolved = true }) => resolved && beliefs.has(operation));
	const failed = attempts.some(({ resolved }) => resolved)
		? undefined
		: attempts.findLast(({ operation }) => beliefs.has(operation));
	return [
		...(back ? [likelihoodOf(engine, sets, model, back, 1, 'resolved')] : []),
		...(failed && !back ? [likelihoodOf(engine, sets, model, failed, FAILED_SHARE, 'failed')] : [])
	];
}

function likelihoodOf(
	engine: Engine,
	sets: readonly FaultSet[],
	model: string,
	{ operation, days = 0 }: EarlierWork,
	weight: number,
	how: 'resolved' | 'failed'
): EvidenceLikelihood {
	const usual = faultShares(engine, model).map(({ chance }) => chance);
	const shares = comebackShares(engine, usual, operation, days);
	const factors = shares.map((share, fault) => {
		const factor = share / Math.max(1e-6, itemAt(usual, fault));
		return 1 - weight + weight * factor;
	});
	return {
		evidence: `${EARLIER}${operation}=${how}`,
		beliefs: [],
		logLikelihood: Float64Array.from(sets, (set) =>
			Math.log(set.length === 0 ? 1 : Math.max(1e-6, ...set.map((fault) => itemAt(factors, fault))))
		)
	};
}

/**
 * What is found when a device comes back after `operation`: the belief's shares, what they leave spread over all other faults by
 * their usual shares, and the shop's own comebacks of it beside them (posterior mean of a Dirichlet whose weight is the belief's).
 * @param usual shares of all faults, in the order of the catalog
 * @param days since the repair: from SOON_DAYS to LATE_DAYS on another fault becomes twice as likely
 */
function comebackShares(
	{ catalog, learned }: Engine,
	usual: readonly number[],
	operation: string,
	days: number
): number[] {
	const { faults: stated = {}, weight: believed = BELIEF_WEIGHT } =
		catalog.records['comeback-belief'].get(operation) ?? {};
	const codes = [...catalog.faults.keys()];
	const named = sumOf(Object.values(stated));
	const lateness = Math.min(1, Math.max(0, (days - SOON_DAYS) / (LATE_DAYS - SOON_DAYS)));
	const otherFault = Math.min(MOST_OTHER, (1 - named) * (1 + lateness));
	const unnamed = sumOf(usual.filter((_, fault) => codeEntry(stated, itemAt(codes, fault)) === undefined));
	const found = new Map<string, number>();
	let comebacks = 0;
	for (const [key, count] of learned.comebacks.get(operation) ?? []) {
		const faults = faultsOfKey(key);
		comebacks += count;
		for (const fault of faults) found.set(fault, (found.get(fault) ?? 0) + count / faults.length);
	}
	return codes.map((code, fault) => {
		const share = codeEntry(stated, code);
		const belief =
			share === undefined
				? (otherFault * itemAt(usual, fault)) / Math.max(1e-6, unnamed)
				: (share * (1 - otherFault)) / Math.max(1e-6, named);
		return (believed * belief + (found.get(code) ?? 0)) / (believed + comebacks || 1);
	});
}
