import { medianAbsoluteDeviation, medianSorted, sortUp } from '../statistics/quantile';
import { MAD_EFFICIENCY, MAD_TO_SD } from '../statistics/robust';
import { betweenGroups, shrunkMean } from '../statistics/shrunk-mean';
import { studentQuantile } from '../statistics/student-t';
import { meterFactor, type MeterFactors } from './meter-factor';
import type { Grade, Mode, ReferenceRecord } from './reference';

/** What is known good about one model: its own readings, those of its sisters, and how meters differ. */
export interface KnownGood {
	own: readonly ReferenceRecord[];
	/** readings of other models of the same family */
	sisters?: readonly ReferenceRecord[];
	factors?: MeterFactors;
}

/** How a reading was taken, as far as that was noted. */
export interface TakenWith {
	board?: string | undefined;
	meter?: string | undefined;
}

export interface Expected {
	centre: number;
	low: number;
	high: number;
	overload: boolean;
	/** how many known-good readings it rests on */
	from: number;
	grade: Grade;
	/** spread of single boards and its degrees of freedom, for the verdict's sureness */
	scale: number;
	freedom: number;
	/** sister models that steadied it; 0 where none did */
	sisters: number;
	/** meters whose readings were brought to this one's, with the factor; absent where none was */
	corrected?: { meter: string; factor: number; contacts: number }[];
	/** meters that differ from this one's and could not be corrected for */
	uncorrected?: string[];
}

/** Known-good boards of one model agree within about this. Common practice, no source. */
export const USUAL_SPREAD: Record<Mode, number> = { diode: 0.02, ohms: 0, volts: 0.05 };
/** Ohms spread in proportion to what is read. Common practice, no source. */
const USUAL_SHARE: Record<Mode, number> = { diode: 0, ohms: 0.1, volts: 0 };
/** How many boards the usual spread is worth against what a model's own boards show. A choice. */
const PRIOR_BOARDS = 4;
/** A sound board reads outside once in this many. A choice: a false alarm costs a second look. */
const COVERAGE = 0.99;

/** Sisters that read exactly alike may still differ by this much. A choice. */
const LEAST_APART = 1e-6;

const usualHalf = (mode: Mode, centre: number) =>
	Math.max(USUAL_SPREAD[mode], USUAL_SHARE[mode] * Math.abs(centre));

/**
 * What a contact should read, from its known-good readings: a prediction interval for one more board.
 * Centre: the median, shrunk towards the family's other models as far as those are alike. Spread: scaled
 * MAD (Iglewicz & Hoaglin 1993), worth 0.37 of its boards, pooled with the trade's usual spread, worth 4. Half width:
 * t quantile times sqrt(spread^2 + variance of the centre), never under the usual half width.
 * Verified readings are preferred; provisional ones are used only where there is no verified one. Withdrawn
 * ones never. Readings of another board revision count as a sister's. Null without any of its own.
 * @param knownGood readings of this contact and mode alone
 */
export function expectedReading(knownGood: KnownGood, conditions: TakenWith = {}): Expected | null {
	const valid = knownGood.own.filter(({ withdrawn }) => !withdrawn);
	const sameBoard = valid.filter(
		({ board }) => conditions.board === undefined || board === undefined || board === conditions.board
	);
	const usable = sameBoard.length > 0 ? sameBoard : valid;
	const otherBoards = sameBoard.length > 0 ? valid.filter((reading) => !sameBoard.includes(reading)) : [];
	const verified = usable.filter(({ grade }) => grade === 'verified');
	const used = verified.length > 0 ? verified : usable;
	const first = used[0];
	if (!first) return null;
	const grade: Grade = verified.length > 0 ? 'verified' : 'provisional';
	const { values, ...meters } = inTermsOf(conditions.meter, used, knownGood.factors);
	if (values.length * 2 <= used.length) {
		return {
			centre: 0,
			low: 0,
			high: 0,
			overload: true,
			from: used.length,
			grade,
			scale: 0,
			freedom: 1,
			sisters: 0
		};
	}
	const { scale, freedom } = spreadOf(values, first.mode);
	const sisters = sisterCentres(
		[...(knownGood.sisters ?? []), ...otherBoards],
		conditions.meter,
		knownGood.factors
	);
	const median = medianSorted(sortUp(values));
	const family = betweenGroups(sisters, Math.max(LEAST_APART, usualHalf(first.mode, median) / 4));
	const { mean: centre, variance } = shrunkMean(
		median,
		scale / Math.sqrt(values.length),
		family.tau,
		family.mean
	);
	const t = studentQuantile(0.5 + COVERAGE / 2, freedom);
	const half = Math.max(usualHalf(first.mode, centre), t * Math.sqrt(scale * scale + variance));
	return {
		centre,
		// a diode or a resistor never reads below nothing
		low: first.mode === 'volts' ? centre - half : Math.max(0, centre - half),
		high: centre + half,
		overload: false,
		from: values.length,
		grade,
		scale: Math.sqrt(scale * scale + variance),
		freedom,
		sisters: sisters.length >= 2 ? sisters.length : 0,
		...meters
	};
}

/** Spread of single boards, by the boards themselves and by the trade: pooled variances, weighted by their worth. */
function spreadOf(values: readonly number[], mode: Mode): { scale: number; freedom: number } {
	const centre = medianSorted(sortUp(values));
	// the usual half width holds nearly every board: 2.576 standard deviations, the normal's 99 %
	const usual = Math.max(1e-6, usualHalf(mode, centre) / 2.576);
	const seen = MAD_TO_SD * medianAbsoluteDeviation(values);
	const worth = MAD_EFFICIENCY * (values.length - 1);
	const freedom = PRIOR_BOARDS + worth;
	return { scale: Math.sqrt((PRIOR_BOARDS * usual * usual + worth * seen * seen) / freedom), freedom };
}

function inTermsOf(
	meter: string | undefined,
	used: readonly ReferenceRecord[],
	factors: MeterFactors = new Map()
) {
	const corrected = new Map<string, { meter: string; factor: number; contacts: number }>();
	const uncorrected = new Set<string>();
	const values = used.flatMap(({ value, meter: its, mode }) => {
		if (value === undefined) return [];
		if (mode !== 'diode' || its === undefined || meter === undefined || its === meter) return [value];
		const found = meterFactor(factors, its, meter);
		if (!found) {
			uncorrected.add(its);
			return [value];
		}
		corrected.set(its, { meter: its, factor: found.factor, contacts: found.contacts });
		return [value * found.factor];
	});
	return {
		values,
		...(corrected.size > 0 ? { corrected: [...corrected.values()] } : {}),
		...(uncorrected.size > 0 ? { uncorrected: [...uncorrected] } : {})
	};
}

/** One centre a sister: another model of the family, or another board revision of this one. Verified ones alone. */
function sisterCentres(
	readings: readonly ReferenceRecord[],
	meter: string | undefined,
	factors: MeterFactors | undefined
): { value: number; error: number }[] {
	const groups = new Map<string, ReferenceRecord[]>();
	for (const reading of readings) {
		if (reading.withdrawn || reading.grade !== 'verified' || reading.value === undefined) continue;
		const key = `${reading.model} ${reading.board ?? ''}`;
		groups.set(key, [...(groups.get(key) ?? []), reading]);
	}
	return [...groups.values()].map((group) => {
		const { values } = inTermsOf(meter, group, factors);
		const { scale } = spreadOf(values, (group[0] as ReferenceRecord).mode);
		return { value: medianSorted(sortUp(values)), error: scale / Math.sqrt(values.length) };
	});
}

/**
 * How many boards bring the tolerance within a quarter of where many would leave it, at the usual spread:
 * what "few" means on the screen. Found by trying.
 */
export function boardsForSteadyTolerance(): number {
	const half = (boards: number) =>
		studentQuantile(0.5 + COVERAGE / 2, PRIOR_BOARDS + MAD_EFFICIENCY * (boards - 1)) *
		Math.sqrt(1 + 1 / boards);
	const settled = half(10_000);
	let boards = 1;
	while (half(boards) > 1.25 * settled) boards++;
	return boards;
}
