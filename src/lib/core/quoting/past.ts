import { jobBooks } from '../ledger/ticket-profit';
import type { Catalog } from '../catalog/catalog';
import { shrunkRate, shrunkRateInterval } from '../statistics/shrunk-rate';
import type { Interval } from '../statistics/rate-interval';
import type { Minor } from '../units/money';
import { addDuration, emptyDurations, type LearnedDurations } from './durations';
import { addAnswer, emptyAnswers, type LearnedAnswers } from './acceptance';

/** What quoting keeps of a ticket: any that was quoted or closed. */
export interface PastJob {
	model: string;
	closedAt: number | null;
	outcome: string | null;
	quotedMinor: Minor | null;
	accepted: boolean | null;
	paidMinor: Minor | null;
	comebackOf: string | null;
	attempts: readonly {
		operation: string;
		minutes?: number | undefined;
		technician?: string | undefined;
		hourlyCostMinor?: Minor | undefined;
	}[];
	parts: readonly { sku: string; quantity: number; unitCostMinor?: Minor | undefined }[];
}

/** Sums over past jobs: durations, comebacks, what jobs were paid over their cost, answered quotes. */
export interface Past {
	durations: LearnedDurations;
	fixed: Map<string, number>;
	comebacks: Map<string, number>;
	paidMinor: number;
	costMinor: number;
	paidJobs: number;
	answers: LearnedAnswers;
}

export const emptyPast = (): Past => ({
	durations: emptyDurations(),
	fixed: new Map(),
	comebacks: new Map(),
	paidMinor: 0,
	costMinor: 0,
	paidJobs: 0,
	answers: emptyAnswers()
});

/** Adds a job to the sums in place, or takes it out again with `times` = -1. */
export function addPastJob(past: Past, job: PastJob, catalog: Catalog, times: 1 | -1 = 1): void {
	if (job.quotedMinor !== null && job.accepted !== null) {
		const valueMinor = catalog.models.get(job.model)?.valueMinor ?? null;
		addAnswer(past.answers, { priceMinor: job.quotedMinor, valueMinor, accepted: job.accepted }, times);
	}
	if (job.closedAt === null) return;
	for (const { operation, minutes } of job.attempts) {
		addDuration(past.durations, operation, job.model, minutes ?? 0, times);
	}
	const count = (map: Map<string, number>) => map.set(job.model, (map.get(job.model) ?? 0) + times);
	if (job.comebackOf !== null) count(past.comebacks);
	else if (job.outcome === 'fixed') {
		count(past.fixed);
		const { paidMinor, partsMinor, labourMinor } = jobBooks(job, catalog);
		if (paidMinor > 0 && partsMinor + labourMinor > 0) {
			past.paidMinor += times * paidMinor;
			past.costMinor += times * (partsMinor + labourMinor);
			past.paidJobs += times;
		}
	}
}

/** Starting belief: one job in twenty returns, worth 20 jobs. Choices of this program. */
const COMEBACK_BELIEF = 0.05;
const COMEBACK_WEIGHT = 20;

const total = (counts: ReadonlyMap<string, number>) =>
	[...counts.values()].reduce((sum, count) => sum + count, 0);

/** Chance that a fixed device of this model comes back: its own record shrunk towards the shop's. */
export function comebackRate(past: Past, model: string): { rate: number; from: number } & Interval {
	const shop = shrunkRate(total(past.comebacks), total(past.fixed), COMEBACK_BELIEF, COMEBACK_WEIGHT);
	const [events, trials] = [past.comebacks.get(model) ?? 0, past.fixed.get(model) ?? 0];
	const bounded = Math.min(events, trials);
	return {
		rate: shrunkRate(bounded, trials, shop, COMEBACK_WEIGHT),
		from: trials,
		...shrunkRateInterval(bounded, trials, shop, COMEBACK_WEIGHT, 0.8)
	};
}

/** What fixed jobs were paid over what they cost; two before there is any. */
export function usualMarkup(past: Past): { ratio: number; from: number } {
	if (past.paidJobs <= 0 || past.costMinor <= 0) return { ratio: 2, from: 0 };
	return { ratio: past.paidMinor / past.costMinor, from: past.paidJobs };
}

/** What giving a job up loses: the mean that a fixed job was paid; 80 before there is any. */
export function lossOfGivingUpMinor(past: Past): number {
	return past.paidJobs > 0 ? past.paidMinor / past.paidJobs : 8000;
}
