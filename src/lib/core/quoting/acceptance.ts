import {
	fitBinary,
	LOG_LOG,
	LOGIT,
	predictorAt,
	predictorDoubt,
	PROBIT,
	type BinaryCases,
	type BinaryFit,
	type Link
} from '../statistics/binary-regression';
import type { Interval } from '../statistics/rate-interval';
import { softmax } from '../statistics/log-sum-exp';
import { sumOf } from '../statistics/sum';
import { Z80 } from '../statistics/normal';
import { sortedMap } from '../units/sorted-map';

/** Who is asked; nobody is named on some tickets. */
export type AskedKind = 'private' | 'trade' | 'unknown';
const KINDS: readonly AskedKind[] = ['private', 'trade', 'unknown'];

/** A past quote and whether the customer took it. */
export interface AnsweredQuote {
	priceMinor: number;
	/** what the device is worth to its owner; null where the model does not say */
	valueMinor: number | null;
	kind: AskedKind;
	accepted: boolean;
}

/** By step of how dear the price was: how many took it, of how many that answered. */
type Steps = Map<number, [accepted: number, answered: number]>;

/**
 * Answered quotes counted by kind of customer and by how dear they were: the logarithm of price over value (of the price,
 * where the value is unknown) in steps of a fiftieth. Asking it does not grow with the number of tickets.
 */
export interface LearnedAnswers {
	valued: Map<AskedKind, Steps>;
	unvalued: Map<AskedKind, Steps>;
}

export const emptyAnswers = (): LearnedAnswers => ({ valued: new Map(), unvalued: new Map() });

const copyOfGroup = (group: LearnedAnswers['valued']) =>
	new Map(
		KINDS.flatMap((kind) => {
			const steps = group.get(kind);
			return steps ? [[kind, sortedMap(steps)] as const] : [];
		})
	);

/** A copy in an order of its own: what is worked out of equal counts is then equal to the last digit. */
export const copyOfAnswers = ({ valued, unvalued }: LearnedAnswers): LearnedAnswers => ({
	valued: copyOfGroup(valued),
	unvalued: copyOfGroup(unvalued)
});

const STEP = 0.02;
const dearness = (priceMinor: number, valueMinor: number | null) =>
	Math.log(Math.max(1, priceMinor) / Math.max(1, valueMinor ?? 1));
const groupOf = (learned: LearnedAnswers, valueMinor: number | null) =>
	valueMinor === null ? learned.unvalued : learned.valued;

/** Counts an answered quote in place, or takes it out again with `times` = -1. */
export function addAnswer(learned: LearnedAnswers, quote: AnsweredQuote, times: 1 | -1 = 1): void {
	const group = groupOf(learned, quote.valueMinor);
	const steps: Steps = group.get(quote.kind) ?? new Map();
	group.set(quote.kind, steps);
	const step = Math.round(dearness(quote.priceMinor, quote.valueMinor) / STEP);
	const [accepted, answered] = steps.get(step) ?? [0, 0];
	if (answered + times === 0) steps.delete(step);
	else steps.set(step, [accepted + (quote.accepted ? times : 0), answered + times]);
	if (steps.size === 0) group.delete(quote.kind);
}

/** The fewest answers that say anything. A choice. */
const FEWEST = 10;

/** How acceptance depends on the price, for one kind of customer and one worth of the device. Plain data: it goes between threads. */
export interface Acceptance {
	/** answered quotes of this kind of customer, and of all */
	from: number;
	fromAll: number;
	kind: AskedKind;
	valueMinor: number | null;
	/** ways in which the chance may fall with the price, each with its share of belief */
	forms: readonly Form[];
	/** between which prices such jobs were asked for; beyond it nothing is known. Null with too few answers */
	asked: AskedRange | null;
}

export interface AskedRange {
	lowMinor: number;
	highMinor: number;
	/** answered quotes behind it */
	from: number;
}

/**
 * Chance that a price is accepted, learnt from answered quotes. Several forms are weighed by how well they foretell the answers
 * (Bayesian model averaging, Hoeting et al., Statistical Science 14, 1999): how far people are from each other (logistic, normal,
 * log-log), whether price over value or its logarithm counts, and how much kinds of customers differ. Each never rises with the
 * price, so their mean does not.
 * @returns null with fewer than ten answers
 * @example const acceptance = acceptanceOf(learned, 12_000, 'private'); // acceptance && chanceAccepted(acceptance, 8900) is 0.71
 */
export function acceptanceOf(
	learned: LearnedAnswers,
	valueMinor: number | null,
	kind: AskedKind
): Acceptance | null {
	const group = groupOf(learned, valueMinor);
	const answered = (kindOf: AskedKind) =>
		sumOf([...(group.get(kindOf)?.values() ?? [])].map(([, all]) => all));
	const fromAll = sumOf(KINDS.map(answered));
	if (fromAll < FEWEST) return null;
	const range = askedRange(group, valueMinor, fromAll);
	return { from: answered(kind), fromAll, kind, valueMinor, forms: formsOf(group), asked: range };
}

/** With fewer answers no range is told, so that outliers are not the whole of it. A choice, like those that follow. */
const FEWEST_OF_RANGE = 20;
const SHARES_OF_RANGE = [0.05, 0.95] as const;
/** The range is widened by so much on either side: a little beyond is no leap. */
const WIDENED = 0.1;

/** The 5th to the 95th percentile of price over value among all that answered, widened by a tenth, at this value. */
function askedRange(
	group: LearnedAnswers['valued'],
	valueMinor: number | null,
	answers: number
): AskedRange | null {
	if (answers < FEWEST_OF_RANGE) return null;
	const steps = [...group.values()]
		.flatMap((bySteps) => [...bySteps].map(([step, [, all]]) => ({ step, all })))
		.sort((a, b) => a.step - b.step);
	const stepAt = (share: number) => {
		let below = 0;
		for (const { step, all } of steps) if ((below += all) >= share * answers) return step;
		return steps.at(-1)?.step ?? 0;
	};
	const [low, high] = SHARES_OF_RANGE.map((share) => Math.exp(stepAt(share) * STEP) * (valueMinor ?? 1)) as [
		number,
		number
	];
	return { lowMinor: low * (1 - WIDENED), highMinor: high * (1 + WIDENED), from: answers };
}

/** Chance that a price is accepted; it never rises with the price. */
export const chanceAccepted = (acceptance: Acceptance, priceMinor: number): number =>
	chanceAt(acceptance, priceMinor, 0);

/** The same with its 80 % interval. */
export const acceptedWithin = (
	acceptance: Acceptance,
	priceMinor: number
): { chance: number } & Interval => ({
	chance: chanceAt(acceptance, priceMinor, 0),
	low: chanceAt(acceptance, priceMinor, -Z80),
	high: chanceAt(acceptance, priceMinor, Z80)
});

/** Mean of the forms, so many deviations of each off. */
function chanceAt({ forms, kind, valueMinor }: Acceptance, priceMinor: number, deviations: number): number {
	const x = dearness(priceMinor, valueMinor);
	const weights = forms.map((form) => {
		const values = valuesAt(form, x, kind);
		const doubt = deviations === 0 ? 0 : deviations * predictorDoubt(form.fit, values);
		return form.share * LINKS[form.link].chance(predictorAt(form.fit, values) + doubt);
	});
	return Math.min(1, sumOf(weights));
}

/** One form: a link, what of the price counts, and its fit. */
interface Form {
	share: number;
	link: keyof typeof LINKS;
	shape: keyof typeof SHAPES;
	/** mean dearness of what was asked */
	centre: number;
	fit: BinaryFit;
}

/**
 * Beliefs before any answer, at the mean price: about seven of ten accept, and twice the price loses most of them; wide. How far
 * kinds of customers are apart is one of three. Choices.
 */
const LEVEL = { mean: 0.8, sd: 2 };
const FALL = { mean: -2, sd: 2 };
const APART = [0.15, 0.5, 1.3] as const;
/** The chance falls at least so slowly, in predictor by logarithm of price. */
const LEAST_FALL = -0.02;

const LINKS = { logistic: LOGIT, normal: PROBIT, 'log-log': LOG_LOG } as const satisfies Record<string, Link>;
/** Of price over value: its logarithm, or itself. */
const SHAPES = {
	logarithm: (x: number, centre: number) => x - centre,
	ratio: (x: number, centre: number) => Math.exp(x - centre) - 1
} as const;
const keysOf = <Key extends string>(all: Record<Key, unknown>) => Object.keys(all) as Key[];
const fitted = new WeakMap<LearnedAnswers['valued'], { key: string; forms: Form[] }>();

/** Every form, fitted and weighed; the remembered ones while the counts are the same. */
function formsOf(group: LearnedAnswers['valued']): Form[] {
	const key = JSON.stringify([...group].map(([kind, steps]) => [kind, [...steps]]));
	const cached = fitted.get(group);
	if (cached?.key === key) return cached.forms;
	const forms = weigh(group);
	fitted.set(group, { key, forms });
	return forms;
}

function weigh(group: LearnedAnswers['valued']): Form[] {
	const rows = [...group].flatMap(([kind, steps]) =>
		[...steps].map(([step, [yes, all]]) => ({ kind, x: step * STEP, yes, all }))
	);
	const answers = sumOf(rows.map(({ all }) => all));
	const centre = sumOf(rows.map(({ x, all }) => x * all)) / answers;
	const forms = keysOf(LINKS).flatMap((link) =>
		keysOf(SHAPES).flatMap((shape) =>
			APART.map((apart): Form => {
				const cases = rows.map(({ kind, x, yes, all }): BinaryCases => ({
					x: valuesOf(SHAPES[shape](x, centre), kind),
					yes,
					all
				}));
				return { share: 0, link, shape, centre, fit: fitBinary(cases, beliefsOf(apart), LINKS[link]) };
			})
		)
	);
	const shares = softmax(forms.map(({ fit }) => fit.logEvidence));
	const likely = forms
		.map((form, i) => ({ ...form, share: shares[i] as number }))
		.filter(({ share }) => share > LEAST_SHARE);
	const kept = sumOf(likely.map(({ share }) => share));
	return likely.map((form) => ({ ...form, share: form.share / kept }));
}
/** Forms that foretell so much worse than the best are left out. */
const LEAST_SHARE = 0.005;

/** Level and fall of all, then what each kind adds to either. */
const valuesOf = (x: number, kind: AskedKind): number[] => [
	1,
	x,
	...KINDS.flatMap((form) => (form === kind ? [1, x] : [0, 0]))
];
const beliefsOf = (apart: number) => [
	LEVEL,
	FALL,
	...KINDS.flatMap(() => [
		{ mean: 0, sd: apart },
		{ mean: 0, sd: apart }
	])
];

/** What a form's coefficients are multiplied by. Where the data would have the chance rise with the price, it stands still. */
function valuesAt({ fit, shape, centre }: Form, dearness: number, kind: AskedKind): number[] {
	const at = 2 + 2 * KINDS.indexOf(kind);
	const fall = (fit.coefficients[1] as number) + (fit.coefficients[at + 1] as number);
	return valuesOf(fall > LEAST_FALL ? 0 : SHAPES[shape](dearness, centre), kind);
}
