import { medianAbsoluteDeviation, medianSorted, sortUp } from '../statistics/quantile';
import { MAD_EFFICIENCY, MAD_TO_SD } from '../statistics/robust';
import { studentQuantile } from '../statistics/student-t';
import type { ReferenceRecord } from './reference';

/**
 * Two meters send different test currents through a junction, so their diode readings differ by a factor,
 * about the same for every contact. It is estimated from contacts that both meters have read.
 */
export interface MeterFactor {
	/** multiply what `from` reads to get what `to` would read */
	factor: number;
	low: number;
	high: number;
	/** contacts that both have read */
	contacts: number;
}

/** `factors.get('bench handheld')`: from "bench" to "handheld"; names joined by a tab. */
export type MeterFactors = ReadonlyMap<string, MeterFactor>;

const key = (from: string, to: string) => `${from}\t${to}`;
/** Fewer contacts than this say nothing of two meters. A choice. */
const FEWEST_CONTACTS = 4;

/**
 * Every pair of meters that shares contacts: median of the ratios of both meters' medians per model and
 * contact, with a 95 % t interval from their scaled MAD. Grounds and shorts (under 0.1) say nothing of a junction.
 */
export function estimateMeterFactors(references: Iterable<ReferenceRecord>): MeterFactors {
	const byContact = new Map<string, Map<string, number[]>>();
	for (const { model, pin, mode, value, meter, withdrawn } of references) {
		if (mode !== 'diode' || meter === undefined || value === undefined || value < 0.1 || withdrawn) continue;
		const contact = `${model} ${pin}`;
		const meters = byContact.get(contact) ?? new Map<string, number[]>();
		byContact.set(contact, meters);
		meters.set(meter, [...(meters.get(meter) ?? []), value]);
	}
	const ratios = new Map<string, number[]>();
	for (const meters of byContact.values()) {
		const medians = [...meters].map(([meter, values]) => [meter, medianSorted(sortUp(values))] as const);
		for (const [from, a] of medians) {
			for (const [to, b] of medians) {
				if (from === to) continue;
				ratios.set(key(from, to), [...(ratios.get(key(from, to)) ?? []), Math.log(b / a)]);
			}
		}
	}
	return new Map(
		[...ratios]
			.filter(([, logs]) => logs.length >= FEWEST_CONTACTS)
			.map(([pair, logs]) => [pair, summarise(logs)])
	);
}

function summarise(logs: readonly number[]): MeterFactor {
	const centre = medianSorted(sortUp(logs));
	const spread = MAD_TO_SD * medianAbsoluteDeviation(logs);
	const worth = MAD_EFFICIENCY * logs.length;
	const half = (studentQuantile(0.975, Math.max(1, worth)) * spread) / Math.sqrt(worth);
	return {
		factor: Math.exp(centre),
		low: Math.exp(centre - half),
		high: Math.exp(centre + half),
		contacts: logs.length
	};
}

const rounded = (factor: number) => Math.round(factor * 1000) / 1000;

/**
 * Factors to three decimals, as a meter shows: one reading more hardly ever moves them, and where it does all that leans on
 * them is judged anew.
 */
export const factorsAsShown = (factors: MeterFactors): MeterFactors =>
	new Map(
		[...factors].map(([pair, { factor, low, high, contacts }]) => [
			pair,
			{ factor: rounded(factor), low: rounded(low), high: rounded(high), contacts }
		])
	);

/** The factor between two meters; null where they are the same, one is not named, or nothing links them. */
export function meterFactor(
	factors: MeterFactors,
	from: string | undefined,
	to: string | undefined
): MeterFactor | null {
	if (from === undefined || to === undefined || from === to) return null;
	return factors.get(key(from, to)) ?? null;
}
