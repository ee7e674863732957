import type { Catalog } from '$lib/core/catalog/catalog';
import { answersOf, evidenceWords } from '$lib/core/diagnosis/evidence';
import { fit, type Fitted } from '$lib/core/diagnosis/fit';
import { reliability } from '$lib/core/diagnosis/opinions';
import type { UsualAndOwn } from '$lib/core/diagnosis/own-answers';
import { trackRecord, type Group } from '$lib/core/diagnosis/track-record';
import { monthKeys } from '$lib/core/ledger/book-sums';
import { sumOf } from '$lib/core/statistics/sum';
import { seesCosts } from '$lib/core/units/role';
import { database } from '$lib/server/database/connection';
import { predictionProgress, storedPredictions } from '$lib/server/diagnosis/predictions';
import { shopMemory } from '$lib/server/diagnosis/shop-memory';
import { requireUser } from '$lib/server/house/guard';
import { keepPredictionsUp } from '$lib/server/thinker/thinker';
import type { PageServerLoad } from './$types';

/** Pairs that come together less than this much more often are not worth a line. */
const NOTABLE_LIFT = 1.5;
const MOST_SOURCES = 10;
const MOST_OWN = 6;
/** A model's own answer that is less sure than this is not worth a line. */
const SURE = 0.8;

/** Whose claims or guesses: a trade customer, all other customers, a technician. */
function sourceWords(source: string, catalog: Catalog): string {
	const [kind, whose] = [source.slice(0, source.indexOf(':')), source.slice(source.indexOf(':') + 1)];
	if (kind === 'customer') return whose ? `${whose}, claims` : 'Private customers, claims';
	return `${catalog.technicians.get(whose)?.name ?? (whose || 'Somebody')}, first guesses`;
}

/** Where models answer in their own way: the answer that is furthest from usual there, surest first. */
function ownAnswers({ signs, answers }: Fitted['heard'], catalog: Catalog) {
	const codes = [...catalog.faults.keys()];
	const rowsOf = ({ usual, own }: UsualAndOwn, answersTo: (question: string) => readonly string[]) =>
		own.flatMap(({ model, question, rows, strays, answers }) => {
			const sure = rows.filter(({ fault }) => (strays.get(fault) ?? 0) >= SURE);
			if (sure.length === 0) return [];
			const [here, elsewhere] = [answers(), usual(question)].map(({ perFault }) => perFault);
			return sure.map(({ fault, own }) => {
				const mine = here?.[fault]?.chances ?? [];
				const theirs = elsewhere?.[fault]?.chances ?? [];
				const gaps = mine.map((chance, k) => Math.abs(chance - (theirs[k] as number)));
				const k = gaps.indexOf(Math.max(...gaps));
				return {
					model,
					fault: codes[fault] as string,
					words: evidenceWords(catalog, `${question}=${answersTo(question)[k] as string}`),
					here: mine[k] as number,
					usual: theirs[k] as number,
					from: sumOf(own),
					sure: strays.get(fault) as number
				};
			});
		});
	return [
		...rowsOf(signs, () => ['true', 'false']),
		...rowsOf(answers, (question) => answersOf(catalog, question))
	].sort((a, b) => b.sure - a.sure || b.from - a.from);
}

/** How right the odds were on the shop's own closed tickets. Money is for who sees costs. */
export const load: PageServerLoad = async ({ locals, depends }) => {
	depends('tavrek:practice');
	const user = requireUser(locals, ['manager', 'technician']);
	const db = await database();
	const working = await keepPredictionsUp(db);
	const memory = await shopMemory(db);
	const { catalog } = memory;
	const [progress, predictions] = await Promise.all([predictionProgress(db, memory), storedPredictions(db)]);
	const record = trackRecord(predictions, monthKeys(catalog.shop.timeZone));
	const modelLabel = (code: string) => catalog.models.get(code)?.label ?? code;
	const faultLabel = (code: string) => catalog.faults.get(code)?.label ?? code;
	const labelled = <Some extends Group>(groups: Some[], labelOf: (key: string) => string) =>
		groups.map((group) => ({ ...group, label: labelOf(group.key) }));
	const { shares, heard } = fit(catalog, memory.learned);
	const { fading, lifts } = shares;
	const codes = [...catalog.faults.keys()];
	const together = [...(lifts ?? [])]
		.map((lift, at) => ({
			faults: [codes[Math.floor(at / codes.length)], codes[at % codes.length]] as [string, string],
			lift
		}))
		.filter(({ faults: [a, b], lift }) => a < b && lift >= NOTABLE_LIFT)
		.sort((a, b) => b.lift - a.lift)
		.slice(0, 5);
	return {
		working,
		progress,
		/** what the record shows of the shop beyond shares and answers */
		learnt: {
			fading: [...fading].map(([model, keep]) => ({ label: modelLabel(model), keep })),
			together: together.map(({ faults, lift }) => ({ labels: faults.map(faultLabel), lift })),
			sources: [...memory.learned.opinions.keys()]
				.map((source) => ({ words: sourceWords(source, catalog), ...reliability(memory.learned, source) }))
				.filter(({ from }) => from > 0)
				.sort((a, b) => b.from - a.from)
				.slice(0, MOST_SOURCES),
			ownAnswers: ownAnswers(heard, catalog)
				.slice(0, MOST_OWN)
				.map((row) => ({ ...row, model: modelLabel(row.model), fault: faultLabel(row.fault) }))
		},
		record: record && {
			...record,
			models: labelled(record.models, modelLabel),
			faults: labelled(record.faults, faultLabel),
			cost: seesCosts(user.role) ? record.cost : null,
			mostWrong: record.mostWrong.map(({ number, model, closedAt, faults, first, chances, came }) => ({
				number,
				model: modelLabel(model),
				closedAt,
				said: first && { label: faultLabel(first.fault), chance: first.chance },
				was: faults.map(faultLabel),
				/** of the likeliest of those that it was */
				wasChance: Math.max(0, ...chances.filter((_, i) => came[i] === 1))
			}))
		}
	};
};
