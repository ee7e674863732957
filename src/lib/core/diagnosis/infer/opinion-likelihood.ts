import { shrunkRate } from '../../statistics/shrunk-rate';
import type { Engine } from '../engine';
import type { FaultSet } from '../fault-sets';
import type { Learned } from '../learn/learn';
import type { Opinion } from '../learn/opinions';
import type { EvidenceLikelihood } from './beliefs';

/** Choices of this program: a source is right every other time until it has shown otherwise. */
const KIND_BELIEF = 0.5;
const KIND_WEIGHT = 4;
const SOURCE_WEIGHT = 6;
/** A technician guesses from the signs that the odds weigh already: only this much of what the guess says is new. */
const GUESS_NEWS = 0.5;

const kindOf = (source: string) => source.slice(0, source.indexOf(':') + 1);

/** How often what a source takes for the fault is confirmed: its own record, shrunk to its kind's. */
export function reliability(learned: Learned, source: string): { chance: number; from: number } {
	const kind = kindOf(source);
	let [right, stated] = [0, 0];
	for (const [fault, [r, s]] of learned.opinions) {
		if (!fault.startsWith(kind)) continue;
		right += r;
		stated += s;
	}
	const [own, tried] = learned.opinions.get(source) ?? [0, 0];
	const usual = shrunkRate(right, stated, KIND_BELIEF, KIND_WEIGHT);
	const chance = shrunkRate(own, tried, usual, SOURCE_WEIGHT);
	return { chance: Math.min(0.98, Math.max(0.02, chance)), from: tried };
}

/**
 * An opinion under every set: it names one of the present faults as often as the source is right, else any other as
 * often as that is named at all. Without a fault it says nothing but what is usually named.
 */
export function opinionLikelihood(
	engine: Engine,
	sets: readonly FaultSet[],
	{ source, fault }: Opinion
): EvidenceLikelihood {
	const codes = [...engine.catalog.faults.keys()];
	const total = codes.reduce((sum, code) => sum + 1 + (engine.learned.named.get(code) ?? 0), 0);
	const named = codes.map((code) => (1 + (engine.learned.named.get(code) ?? 0)) / total);
	const at = codes.indexOf(fault);
	const { chance, from } = reliability(engine.learned, source);
	const news = source.startsWith('technician:') ? GUESS_NEWS : 1;
	const chanceOf = (set: FaultSet) => {
		if (set.length === 0) return named[at] as number;
		if (set.includes(at)) return chance / set.length;
		const otherChance = 1 - set.reduce((sum, f) => sum + (named[f] as number), 0);
		return ((1 - chance) * (named[at] as number)) / Math.max(1e-9, otherChance);
	};
	return {
		evidence: `${source}=${fault}`,
		beliefs: codes.map((_, f) => ({
			chance: Math.max(1e-6, chanceOf([f])),
			weight: from + SOURCE_WEIGHT
		})),
		logLikelihood: Float64Array.from(sets, (set) => news * Math.log(chanceOf(set)))
	};
}
