import {
	binsOfEqualMass,
	binsOfEqualWidth,
	calibrationError,
	largestGap,
	type CalibrationBin
} from '../../statistics/calibration';
import { meanInterval, type MeanInterval } from '../../statistics/mean-interval';
import { areaUnderCurve, murphyParts, type Foretold } from '../../statistics/proper-scores';
import { wilsonInterval, type Interval } from '../../statistics/rate-interval';
import type { Mark, Prediction } from './foretell';

/** A share of tickets with its 95 % Wilson interval. */
export interface Rate extends Interval {
	share: number;
	hits: number;
	outcomes: number;
}

/** How one way of foretelling did over some tickets. */
export interface Forecaster {
	/** a confirmed fault stood first, among the first three; of tickets with a confirmed fault */
	first: Rate;
	three: Rate;
	logLoss: MeanInterval;
	brier: MeanInterval;
}

/** Tickets that share a model, fault or month. */
export interface Group {
	key: string;
	count: number;
	first: Rate;
	three: Rate;
	/** by the model's usual faults */
	usualFirst: Rate;
	logLoss: number;
	/** too few tickets to say anything by */
	few: boolean;
}

export interface TrackRecord {
	count: number;
	since: number;
	until: number;
	few: boolean;
	bench: Forecaster;
	counter: Forecaster;
	usual: Forecaster;
	/** how much lower the odds' log cost is than the usual faults', ticket by ticket */
	ahead: MeanInterval;
	/** 1 − Brier score over that of the usual faults */
	skill: number;
	/** on the tickets that have a first guess: the guess, and the odds (without it) on the same; null without any */
	guess: { own: Forecaster; odds: Forecaster; ahead: MeanInterval; few: boolean } | null;
	calibration: {
		bins: (CalibrationBin & { interval: Interval })[];
		/** expected error over ten bins of equal mass: of all chances, and of those of 5 % or more */
		error: number;
		errorLoud: number;
		largestGap: number;
		/** chance that a fault that was there stood above one that was not */
		discrimination: number;
		/** parts of the Brier score, chances rounded to whole per cents */
		parts: ReturnType<typeof murphyParts>;
	} | null;
	models: Group[];
	faults: (Group & { named: Rate })[];
	months: Group[];
	/** what the plan would have cost beside what was done; null where nothing can be compared */
	cost: { plan: MeanInterval; done: MeanInterval; saved: MeanInterval; few: boolean } | null;
	/** where the odds were most wrong, worst first */
	mostWrong: Prediction[];
}

/** Fewer tickets than this say too little of a shop; than the other, of a model, fault or month. Choices. */
export const FEW_TICKETS = 30;
const FEW_IN_GROUP = 8;
const SHOWN_WRONG = 12;

function rateOf(hits: number, trials: number): Rate {
	return { share: trials > 0 ? hits / trials : NaN, hits, outcomes: trials, ...wilsonInterval(hits, trials) };
}

const placed = (marks: readonly Mark[], maxRank: number): Rate => {
	const confirmed = marks.filter(({ place }) => place !== null);
	return rateOf(confirmed.filter(({ place }) => (place as number) <= maxRank).length, confirmed.length);
};

const forecaster = (marks: readonly Mark[]): Forecaster => ({
	first: placed(marks, 1),
	three: placed(marks, 3),
	logLoss: meanInterval(marks.map(({ logLoss }) => logLoss)),
	brier: meanInterval(marks.map(({ brier }) => brier))
});

/**
 * All that the predictions of a shop's own closed tickets say of its odds. Empty shops get counts of nothing.
 * @param predictions each told from the tickets before it
 * @param monthOf names the month of a moment in the shop's zone, as "2026-03"
 * @example trackRecord(predictions, monthKeys('Europe/Lisbon'))?.bench.first.share // 0.74
 */
export function trackRecord(
	predictions: readonly Prediction[],
	monthOf: (at: number) => string
): TrackRecord | null {
	if (predictions.length === 0) return null;
	const [bench, counter, usual] = (['bench', 'counter', 'usual'] as const).map((way) =>
		forecaster(predictions.map((prediction) => prediction[way]))
	) as [Forecaster, Forecaster, Forecaster];
	const moments = predictions.map(({ closedAt }) => closedAt);
	return {
		count: predictions.length,
		since: moments.reduce((earliest, at) => Math.min(earliest, at), Infinity),
		until: moments.reduce((latest, at) => Math.max(latest, at), -Infinity),
		few: predictions.length < FEW_TICKETS,
		bench,
		counter,
		usual,
		ahead: meanInterval(predictions.map((prediction) => prediction.usual.logLoss - prediction.bench.logLoss)),
		skill: 1 - bench.brier.mean / usual.brier.mean,
		guess: guesses(predictions),
		calibration: calibrationOf(predictions),
		models: groupsBy(predictions, ({ model }) => [model]),
		faults: faultGroups(predictions),
		months: groupsBy(predictions, ({ closedAt }) => [monthOf(closedAt)]).sort((a, b) =>
			a.key < b.key ? -1 : 1
		),
		cost: costs(predictions),
		mostWrong: [...predictions]
			.filter(({ bench }) => bench.place !== 1)
			.sort((a, b) => b.bench.logLoss - a.bench.logLoss || (a.number < b.number ? -1 : 1))
			.slice(0, SHOWN_WRONG)
	};
}

function guesses(predictions: readonly Prediction[]): TrackRecord['guess'] {
	const guessed = predictions.flatMap(({ guess, bench }) => (guess ? { guess, bench } : []));
	if (guessed.length === 0) return null;
	return {
		own: forecaster(guessed.map(({ guess }) => guess)),
		odds: forecaster(guessed.map(({ bench }) => bench)),
		ahead: meanInterval(guessed.map(({ guess, bench }) => guess.logLoss - bench.logLoss)),
		few: guessed.length < FEW_TICKETS
	};
}

function calibrationOf(predictions: readonly Prediction[]): TrackRecord['calibration'] {
	const pairs = predictions.flatMap(({ chances, came: outcomes }) =>
		chances.map((chance, i): Foretold => [chance, outcomes[i] === 1])
	);
	if (pairs.length === 0) return null;
	const bins = binsOfEqualWidth(pairs, 10);
	return {
		bins: bins.map((bin) => ({ ...bin, interval: wilsonInterval(bin.hits, bin.count) })),
		error: calibrationError(binsOfEqualMass(pairs, 10)),
		errorLoud: calibrationError(
			binsOfEqualMass(
				pairs.filter(([chance]) => chance >= 0.05),
				10
			)
		),
		largestGap: largestGap(bins),
		discrimination: areaUnderCurve(pairs),
		parts: murphyParts(pairs.map(([chance, occurred]) => [Math.round(chance * 100) / 100, occurred]))
	};
}

function groupsBy(
	predictions: readonly Prediction[],
	keysOf: (prediction: Prediction) => readonly string[]
): Group[] {
	const groups = new Map<string, Prediction[]>();
	for (const prediction of predictions) {
		for (const key of keysOf(prediction)) {
			const group = groups.get(key);
			if (group) group.push(prediction);
			else groups.set(key, [prediction]);
		}
	}
	return [...groups]
		.map(([key, predictions]) => {
			const marks = predictions.map(({ bench }) => bench);
			return {
				key,
				count: predictions.length,
				first: placed(marks, 1),
				three: placed(marks, 3),
				usualFirst: placed(
					predictions.map(({ usual }) => usual),
					1
				),
				logLoss: marks.reduce((sum, { logLoss }) => sum + logLoss, 0) / marks.length,
				few: predictions.length < FEW_IN_GROUP
			};
		})
		.sort((a, b) => b.count - a.count || (a.key < b.key ? -1 : 1));
}

/** By fault: tickets where it was confirmed, and how often it was right where it stood first. */
function faultGroups(predictions: readonly Prediction[]): TrackRecord['faults'] {
	return groupsBy(predictions, ({ faults }) => faults).map((group) => {
		const named = predictions.filter(({ first }) => first?.fault === group.key);
		const right = named.filter(({ faults }) => faults.includes(group.key));
		return { ...group, named: rateOf(right.length, named.length) };
	});
}

function costs(predictions: readonly Prediction[]): TrackRecord['cost'] {
	const compared = predictions.flatMap(({ cost }) => cost ?? []);
	if (compared.length === 0) return null;
	return {
		plan: meanInterval(compared.map(({ planMinor }) => planMinor)),
		done: meanInterval(compared.map(({ doneMinor }) => doneMinor)),
		saved: meanInterval(compared.map(({ planMinor, doneMinor }) => doneMinor - planMinor)),
		few: compared.length < FEW_TICKETS
	};
}
