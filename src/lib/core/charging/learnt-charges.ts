import type { Catalog, Model } from '../catalog/catalog';
import { quantileSorted } from '../statistics/quantile';
import type { Learner } from '../units/learner';
import { beforeRepair } from '../units/stage';
import { chargeProfile, contractLevel, type Draw } from './healthy-draw';
import { sortedMap } from '../units/sorted-map';

/**
 * What devices of a model drew once they were repaired, where the catalog names no charge: the strongest draw of each closed
 * fixed ticket, by contract. Kept in hundredths of an ampere, so that a ticket is taken back to the last digit.
 */
export interface RepairedDraws {
	model: string;
	draws: readonly (readonly [level: number, centiamps: number])[];
}

/** By model and level: how many tickets drew so many hundredths of an ampere. */
export type LearnedCharges = Map<string, Map<number, Map<number, number>>>;

/** Less than this tells of a full or an empty battery, not of how it charges. Common practice, no source. */
const CHARGING_AMPS = 0.15;
/** So few tickets say nothing yet. A choice. */
const LEAST_TICKETS = 5;
/** The lower and upper of what a healthy one takes: quarter and nine tenths of the tickets (batteries differ). Choices. */
const QUANTILES = { low: 0.25, usual: 0.5, most: 0.9 };
/** Learnt draws are told apart by so many amperes, so that one ticket more does not judge all others anew. A choice. */
const STEP_AMPS = 0.05;

/** Whether the catalog leaves a model's charge open. */
export const namesNoCharge = (model: Model | undefined): model is Model =>
	model !== undefined && model.charge === undefined && (model.charges ?? []).length === 0;

/** What a ticket says of its model's charge; null where it was not fixed or nothing was measured after. */
export function repairedDraws(
	ticket: {
		model: string;
		outcome: string | null;
		attempts: readonly { resolved: boolean }[];
		meter: readonly { stage: string; volts: number; amps: number; contract?: number | undefined }[];
	},
	{ models, connectors }: Pick<Catalog, 'models' | 'connectors'>
): RepairedDraws | null {
	const model = models.get(ticket.model);
	const profile = chargeProfile(
		model && { ...model, charge: undefined, charges: undefined },
		connectors.get(model?.connector ?? '')
	);
	const strongest = new Map<number, number>();
	// after a repair that failed a device draws what its faults leave
	const allWorked = ticket.attempts.every(({ resolved }) => resolved);
	for (const look of ticket.meter) {
		const repaired = look.stage === 'closing' || (allWorked && !beforeRepair(look.stage));
		if (!repaired || Math.abs(look.amps) < CHARGING_AMPS) continue;
		const level = contractLevel(look, profile);
		strongest.set(level, Math.max(strongest.get(level) ?? 0, Math.round(100 * Math.abs(look.amps))));
	}
	if (ticket.outcome !== 'fixed' || strongest.size === 0) return null;
	return { model: ticket.model, draws: [...strongest].sort(([a], [b]) => a - b) };
}

function count(learned: LearnedCharges, { model, draws }: RepairedDraws, times: 1 | -1): void {
	const levels = learned.get(model) ?? new Map<number, Map<number, number>>();
	learned.set(model, levels);
	for (const [level, centiamps] of draws) {
		const counts = levels.get(level) ?? new Map<number, number>();
		levels.set(level, counts);
		const count = (counts.get(centiamps) ?? 0) + times;
		if (count === 0) counts.delete(centiamps);
		else counts.set(centiamps, count);
		if (counts.size === 0) levels.delete(level);
	}
	if (levels.size === 0) learned.delete(model);
}

export const CHARGES: Learner<LearnedCharges, RepairedDraws> = {
	empty: () => new Map(),
	add: (learned, share) => count(learned, share, 1),
	remove: (learned, share) => count(learned, share, -1),
	settled: (learned) =>
		sortedMap(
			new Map(
				[...learned].map(([model, levels]) => [
					model,
					sortedMap(new Map([...levels].map(([level, counts]) => [level, sortedMap(counts)])))
				])
			)
		)
};

const keyOf = ({ volts, amps }: Draw) => `${volts} ${amps}`;

/** A model's charge as its repaired devices show it. */
export interface LearntCharge {
	/** at the level that most tickets know */
	charge: Draw;
	/** the least and the most of each level, where they differ from it */
	charges: Draw[];
	/** closed tickets behind the charge */
	from: number;
}

/** What repaired devices of a model draw; null while too few were measured. */
export function learntCharge(learned: LearnedCharges, model: string): LearntCharge | null {
	const levels = [...(learned.get(model) ?? [])]
		.map(([volts, counts]) => ({
			volts,
			amps: [...sortedMap(counts)].flatMap(([centi, n]) => Array<number>(n).fill(centi / 100))
		}))
		.filter(({ amps }) => amps.length >= LEAST_TICKETS);
	const [best] = [...levels].sort((a, b) => b.amps.length - a.amps.length || a.volts - b.volts);
	if (!best) return null;
	const at = ({ volts, amps }: { volts: number; amps: number[] }, share: number): Draw => ({
		volts,
		amps: Math.round(Math.round(quantileSorted(amps, share) / STEP_AMPS) * STEP_AMPS * 100) / 100
	});
	const charge = at(best, QUANTILES.usual);
	const all = levels.flatMap((level) => [at(level, QUANTILES.low), at(level, QUANTILES.most)]);
	const seenKeys = new Set([keyOf(charge)]);
	const charges = all.filter((draw) => !seenKeys.has(keyOf(draw)) && seenKeys.add(keyOf(draw)));
	return { charge, charges, from: best.amps.length };
}

/** Whether two states of a model charge alike, whichever number of tickets says so. */
export const sameCharge = (a: Model | undefined, b: Model | undefined): boolean =>
	JSON.stringify([a?.charge, a?.charges]) === JSON.stringify([b?.charge, b?.charges]);

/** The catalog with what was learnt where it names no charge; the same object where nothing was. */
export function withLearntCharges(catalog: Catalog, learned: LearnedCharges): Catalog {
	const learnt = [...learned.keys()].flatMap((code): [string, Model][] => {
		const model = catalog.models.get(code);
		const found = namesNoCharge(model) ? learntCharge(learned, code) : null;
		if (!found || !model) return [];
		const { charge, charges, from } = found;
		return [[code, { ...model, charge, charges, chargesFrom: from }]];
	});
	return learnt.length === 0 ? catalog : { ...catalog, models: new Map([...catalog.models, ...learnt]) };
}
