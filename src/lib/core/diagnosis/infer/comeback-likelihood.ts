import { itemAt } from '../../units/vector';
import type { Engine } from '../engine';
import type { FaultSet } from '../fault-sets';
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

/**
 * A device that comes back after the shop's own work: shares of what is found then, as the catalog believes them, over the usual ones. What
 * the belief leaves goes to all other faults by their usual shares. Of several repairs the last one with a belief speaks; one that failed on
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
	const stated = engine.catalog.records['comeback-belief'].get(operation)?.faults ?? {};
	const codes = [...engine.catalog.faults.keys()];
	const usual = faultShares(engine, model).map(({ chance }) => chance);
	const named = Object.values(stated).reduce((sum, share) => sum + share, 0);
	const lateness = Math.min(1, Math.max(0, (days - SOON_DAYS) / (LATE_DAYS - SOON_DAYS)));
	const other = Math.min(MOST_OTHER, (1 - named) * (1 + lateness));
	const unnamed = usual.reduce(
		(sum, share, fault) => (stated[codes[fault] as string] === undefined ? sum + share : sum),
		0
	);
	const factors = codes.map((code, fault) => {
		const share = stated[code];
		const factor =
			share === undefined
				? other / Math.max(1e-6, unnamed)
				: (share * (1 - other)) / Math.max(1e-6, named) / Math.max(1e-6, usual[fault] as number);
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
