import type { Catalog } from '../../catalog/catalog';
import { evidenceWords } from '../learn/evidence-words';
import type { FaultOdds, Odds } from './odds';

/** What the panel of odds shows: the likeliest faults with their reasons in words. */
export interface OddsView {
	learnedFrom: number;
	fromModel: number;
	faults: (Omit<FaultOdds, 'reasons'> & {
		reasons: { words: string; factor: number }[];
		/** reasons that are not sent along, and the product of their factors; asked for when they are opened */
		more: { count: number; factor: number } | null;
	})[];
	pairs: { labels: string[]; probability: number }[];
	none: number;
	/** of what failed repairs have left */
	ofNow: boolean;
}

const SHOWN_FAULTS = 6;
/** A fault that is less likely comes without reasons until it is opened. */
const FIRST_REASONS = 3;

/** @param whole all reasons of all faults; without, the loudest of the first fault */
export function oddsView(odds: Odds, catalog: Catalog, whole = true): OddsView {
	const sent = (i: number) => (whole ? Infinity : i === 0 ? FIRST_REASONS : 0);
	return {
		learnedFrom: odds.learnedFrom,
		fromModel: odds.fromModel,
		none: odds.none,
		ofNow: odds.ofNow,
		faults: odds.faults.slice(0, SHOWN_FAULTS).map(({ reasons, ...fault }, i) => {
			const rest = reasons.slice(sent(i));
			return {
				...fault,
				reasons: reasons
					.slice(0, sent(i))
					.map(({ evidence, factor }) => ({ words: evidenceWords(catalog, evidence), factor })),
				more:
					rest.length === 0
						? null
						: { count: rest.length, factor: rest.reduce((all, { factor }) => all * factor, 1) }
			};
		}),
		pairs: odds.sets
			.filter(({ faults, probability }) => faults.length > 1 && probability >= 0.02)
			.slice(0, 2)
			.map(({ faults, probability }) => ({
				labels: faults.map((fault) => catalog.faults.get(fault)?.label ?? fault),
				probability
			}))
	};
}
