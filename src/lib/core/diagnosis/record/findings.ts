import { itemAt } from '../../units/vector';
import { sumOf } from '../../statistics/sum';
import type { Engine } from '../engine';
import { reliability } from '../infer/opinion-likelihood';
import { answersOf } from '../learn/evidence';
import { evidenceWords } from '../learn/evidence-words';
import type { UsualAndOwn } from '../learn/model-deviations';

/** What a shop's record shows beyond shares and answers, in codes. */
export interface Findings {
	/** models whose older tickets count less, and what one counts for thirty days later */
	fading: { model: string; keep: number }[];
	/** faults that come together more often than by chance, and how many times, most first */
	together: { faults: [string, string]; lift: number }[];
	/** by source of claims and guesses: how often it was right, and of how many; most often heard first */
	sources: { source: string; chance: number; from: number }[];
	/** answers that a model gives in its own way, surest first */
	ownAnswers: OwnAnswer[];
}

interface OwnAnswer {
	model: string;
	fault: string;
	/** the answer, as the odds word it */
	words: string;
	/** its chance on this model, and elsewhere */
	here: number;
	usual: number;
	/** tickets behind it, and how far it is believed */
	from: number;
	sure: number;
}

/** Pairs that come together less than this much more often are not worth a line. A choice, like those that follow. */
const NOTABLE_LIFT = 1.5;
const MOST_PAIRS = 5;
const MOST_SOURCES = 10;
const MOST_OWN = 6;
/** A model's own answer that is less sure than this is not worth a line. */
const SURE = 0.8;

/**
 * @param engine catalog and what was learnt
 * @returns each list as long as it is worth showing, in the order of weight
 * @example findingsOf(engineOf(catalog, learned)).together[0]?.lift // 3.2: so many times as often as by chance
 */
export function findingsOf({ catalog, learned, fitted }: Engine): Findings {
	const { fading, lifts } = fitted.shares;
	const codes = [...catalog.faults.keys()];
	const pairs = [...(lifts ?? [])].map((lift, at) => ({
		faults: [codes[Math.floor(at / codes.length)], codes[at % codes.length]] as [string, string],
		lift
	}));
	const { signs, answers } = fitted.byModel;
	return {
		fading: [...fading].map(([model, keep]) => ({ model, keep })),
		together: pairs
			.filter(({ faults: [a, b], lift }) => a < b && lift >= NOTABLE_LIFT)
			.sort((a, b) => b.lift - a.lift)
			.slice(0, MOST_PAIRS),
		sources: [...learned.opinions.keys()]
			.map((source) => ({ source, ...reliability(learned, source) }))
			.filter(({ from }) => from > 0)
			.sort((a, b) => b.from - a.from)
			.slice(0, MOST_SOURCES),
		ownAnswers: [
			...ownAnswersOf(
				signs,
				() => ['true', 'false'],
				codes,
				(key) => evidenceWords(catalog, key)
			),
			...ownAnswersOf(
				answers,
				(question) => answersOf(catalog, question),
				codes,
				(key) => evidenceWords(catalog, key)
			)
		]
			.sort((a, b) => b.sure - a.sure || b.from - a.from)
			.slice(0, MOST_OWN)
	};
}

/** Where models answer in their own way: the answer that is furthest from usual there. */
const ownAnswersOf = (
	{ usual, deviating: modelRows }: UsualAndOwn,
	answersTo: (question: string) => readonly string[],
	codes: readonly string[],
	wordsOf: (key: string) => string
): OwnAnswer[] =>
	modelRows.flatMap(({ model, question, rows, deviates, answers }) => {
		const certain = rows.filter(({ fault }) => (deviates.get(fault) ?? 0) >= SURE);
		if (certain.length === 0) return [];
		const [ownRows, elsewhere] = [answers(), usual(question)].map(({ perFault }) => perFault);
		return certain.map(({ fault, counts }) => {
			const mine = ownRows?.[fault]?.chances ?? [];
			const theirs = elsewhere?.[fault]?.chances ?? [];
			const gaps = mine.map((chance, k) => Math.abs(chance - (theirs[k] as number)));
			const k = gaps.indexOf(Math.max(...gaps));
			return {
				model,
				fault: itemAt(codes, fault),
				words: wordsOf(`${question}=${itemAt(answersTo(question), k)}`),
				here: mine[k] as number,
				usual: theirs[k] as number,
				from: Math.round(sumOf(counts)),
				sure: deviates.get(fault) as number
			};
		});
	});
