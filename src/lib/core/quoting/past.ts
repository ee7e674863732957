import { jobBooks } from '../ledger/ticket-profit';
import type { Catalog } from '../catalog/catalog';
import { shrunkRate, shrunkRateInterval } from '../statistics/shrunk-rate';
import type { Interval } from '../statistics/rate-interval';
import type { Learner } from '../units/learner';
import type { Minor } from '../units/money';
import { addDuration, emptyDurations, type LearnedDurations } from './durations';
import {
	addAnswer,
	copyOfAnswers,
	emptyAnswers,
	type AnsweredQuote,
	type LearnedAnswers
} from './acceptance';

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
		/** a step of it: its minutes belong to the attempt that ends it */
		part?: boolean | undefined;
		minutes?: number | undefined;
		technician?: string | undefined;
		hourlyCostMinor?: Minor | undefined;
	}[];
	parts: readonly { sku: string; quantity: number; unitCostMinor?: Minor | undefined }[];
}

/** What one ticket adds to the sums, worked out once with the catalog it was read with: exactly this is taken back. */
export interface JobShare {
	model: string;
	answer: AnsweredQuote | null;
	durations: readonly (readonly [operation: string, minutes: number])[];
	comeback: boolean;
	fixed: boolean;
	/** of a fixed job that was paid and cost something */
	paid: { paidMinor: Minor; costMinor: Minor } | null;
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

/** What a job adds to the sums. */
export function shareOf(job: PastJob, catalog: Catalog): JobShare {
	const { model, closedAt, outcome, quotedMinor, accepted } = job;
	const closed = closedAt !== null;
	const fixed = closed && job.comebackOf === null && outcome === 'fixed';
	const valueMinor = catalog.models.get(model)?.valueMinor ?? null;
	return {
		model,
		answer:
			quotedMinor === null || accepted === null ? null : { priceMinor: quotedMinor, valueMinor, accepted },
		durations: closed ? durationsOf(job.attempts) : [],
		comeback: closed && job.comebackOf !== null,
		fixed,
		paid: fixed ? paidOver(job, catalog) : null
	};
}

/** Minutes of each attempt, with those of the steps of the same operation before it; steps that nothing ended are one too. */
function durationsOf(attempts: PastJob['attempts']): [operation: string, minutes: number][] {
	const steps = new Map<string, number>();
	const durations: [string, number][] = [];
	for (const { operation, minutes = 0, part } of attempts) {
		const all = (steps.get(operation) ?? 0) + minutes;
		if (part) steps.set(operation, all);
		else {
			durations.push([operation, all]);
			steps.delete(operation);
		}
	}
	return [...durations, ...steps];
}

function paidOver(job: PastJob, catalog: Catalog): JobShare['paid'] {
	const { paidMinor, partsMinor, labourMinor } = jobBooks(job, catalog);
	const costMinor = partsMinor + labourMinor;
	return paidMinor > 0 && costMinor > 0 ? { paidMinor, costMinor } : null;
}

/** Adds a job's share to the sums in place, or takes it out again with `times` = -1. */
export function addShare(past: Past, share: JobShare, times: 1 | -1 = 1): void {
	if (share.answer) addAnswer(past.answers, share.answer, times);
	for (const [operation, minutes] of share.durations) {
		addDuration(past.durations, operation, share.model, minutes, times);
	}
	if (share.comeback) bump(past.comebacks, share.model, times);
	if (share.fixed) bump(past.fixed, share.model, times);
	if (share.paid) {
		past.paidMinor += times * share.paid.paidMinor;
		past.costMinor += times * share.paid.costMinor;
		past.paidJobs += times;
	}
}

/** What quoting learns of past jobs. */
export const JOBS: Learner<Past, JobShare> = {
	empty: emptyPast,
	add: (past, share) => addShare(past, share),
	remove: (past, share) => addShare(past, share, -1),
	settled: ({ durations, fixed, comebacks, answers, ...sums }) => ({
		...sums,
		durations: { operations: new Map(durations.operations), models: new Map(durations.models) },
		fixed: new Map(fixed),
		comebacks: new Map(comebacks),
		answers: copyOfAnswers(answers)
	})
};

function bump(counts: Map<string, number>, key: string, by: number): void {
	const count = (counts.get(key) ?? 0) + by;
	if (count === 0) counts.delete(key);
	else counts.set(key, count);
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

/** What a job is worth before any was paid: 80, a placeholder. */
const UNPAID_MINOR = 8000;

/**
 * What giving a job up loses: the mean that a fixed job was paid, but no more than the device is worth, since nobody pays
 * more; and what the shop says of data, where that is what counts.
 * @param device `valueMinor` null where the model has no value
 */
export function lossOfGivingUpMinor(
	past: Past,
	device: {
		valueMinor: Minor | null;
		matters?: 'device' | 'data' | 'both' | undefined;
		dataWorthMinor: Minor;
	}
): number {
	const paid = past.paidJobs > 0 ? past.paidMinor / past.paidJobs : UNPAID_MINOR;
	const data = device.matters === 'data' || device.matters === 'both' ? device.dataWorthMinor : 0;
	return Math.min(paid, device.valueMinor ?? Infinity) + data;
}
