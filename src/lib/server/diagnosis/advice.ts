import type { Catalog } from '$lib/core/catalog/catalog';
import { readFeatures, type Evidence } from '$lib/core/diagnosis/evidence';
import type { Learned } from '$lib/core/diagnosis/learn';
import { rankNextSteps, type Step } from '$lib/core/diagnosis/next-step';
import { inferOdds, type Inference } from '$lib/core/diagnosis/odds';
import { durationLaw } from '$lib/core/quoting/durations';
import { lossOfGivingUpMinor, type Past } from '$lib/core/quoting/past';
import { quoteJob, type Quote } from '$lib/core/quoting/quote';
import { lognormalMean } from '$lib/core/statistics/lognormal';
import type { KnownGoodShelf } from '../catalog/known-good';

export interface Advice {
	inference: Inference;
	next: Step[];
	quote: Quote;
}

export interface AdviceRequest {
	faults?: readonly string[] | null;
	askedMinor?: number | null;
	technician?: string | null;
}

export interface Knowledge {
	catalog: Catalog;
	shelf: Pick<KnownGoodShelf, 'book'>;
	learned: Learned;
	past: Past;
}

/** Odds with the steps that follow from them. */
export function adviseSteps({ catalog, learned, past, shelf }: Knowledge, evidence: Evidence) {
	const features = readFeatures(evidence, catalog, shelf.book);
	const inference = inferOdds(catalog, learned, evidence.model, features);
	const next = rankNextSteps(catalog, learned, inference, features, {
		operationMinutes: (code) => lognormalMean(durationLaw(catalog, past.durations, code, evidence.model)),
		lossOfGivingUpMinor: lossOfGivingUpMinor(past)
	});
	return { inference, next, features };
}

/** Odds, next steps and quote for one state of evidence: what the ticket's side shows and the API answers. */
export function advise(knowledge: Knowledge, evidence: Evidence, request: AdviceRequest = {}): Advice {
	const { catalog, learned, past } = knowledge;
	const { inference, next, features } = adviseSteps(knowledge, evidence);
	const technician = catalog.technicians.get(request.technician ?? '');
	const quote = quoteJob({
		catalog,
		learned,
		past,
		model: evidence.model,
		testsDone: features.answers
			.map(({ question }) => question)
			.filter((question) => catalog.tests.has(question)),
		faults: request.faults ?? null,
		inference,
		next,
		askedMinor: request.askedMinor ?? null,
		hourlyMinor: technician?.hourlyCostMinor ?? null
	});
	return { inference, next, quote };
}
