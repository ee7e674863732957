import { codeEntry } from '../units/code';
import { jobBooks } from '../ledger/ticket-profit';
import type { Catalog } from '../catalog/catalog';
import {
	addComebackCost,
	comebackCostMinor,
	noComebackCosts,
	type ComebackCosts
} from '../comebacks/what-one-costs';
import { isComeback } from '../comebacks/what-counts';
import type { Learner } from '../units/learner';
import type { Minor } from '../units/money';
import { addDuration, emptyDurations, type LearnedDurations, type TakenMinutes } from './durations';
import { countFactor, type Counts } from './counts';
import { addWalk, copyOfWalks, setOf, type LearnedWalks, type TestAnswer, type Walk } from './habits';
import {
	addAnswer,
	copyOfAnswers,
	emptyAnswers,
	type AnsweredQuote,
	type AskedKind,
	type LearnedAnswers
} from './acceptance';
import { sortedMap } from '../units/sorted-map';

/** What quoting keeps of a ticket: any that was quoted or closed. */
export interface PastJob {
	model: string;
	closedAt: number | null;
	outcome: string | null;
	quotedMinor: Minor | null;
	accepted: boolean | null;
	paidMinor: Minor | null;
	comebackOf: string | null;
	/** the job that it names, as far as it is known; with when the device came in again, and why */
	earlierVisit?: { outcome: string | null; closedAt: number | null } | null | undefined;
	openedAt: number;
	cause?: string | null | undefined;
	/** who was asked; without, nobody is named */
	customerKind?: Exclude<AskedKind, 'unknown'> | undefined;
	/** what was confirmed of what it came in with; null or nothing where nothing was confirmed either way */
	faults?: readonly string[] | null | undefined;
	/** tests that were done on it before the first repair, in order */
	tests?: readonly TestAnswer[] | undefined;
	/** pads, wires or contacts, as they were counted on it */
	counts?: Counts | undefined;
	/** operations that fixed the device on the ticket that it comes back from */
	fixedBefore?: readonly string[] | undefined;
	attempts: readonly {
		operation: string;
		/** the complaint was gone after it */
		resolved?: boolean | undefined;
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
	durations: readonly TakenMinutes[];
	/** what it cost the shop, where it is a comeback that counts; else null */
	comebackMinor: Minor | null;
	fixed: boolean;
	/** operations that fixed the device, and those after which it came back */
	fixedBy: readonly string[];
	backAfter: readonly string[];
	/** how the job went, by what was confirmed */
	walk: (Walk & { faults: string }) | null;
	/** of a fixed job that was paid and cost something */
	paid: { paidMinor: Minor; costMinor: Minor } | null;
}

/** Sums over past jobs: durations, comebacks, what jobs were paid over their cost, answered quotes. */
export interface Past {
	durations: LearnedDurations;
	walks: LearnedWalks;
	/** fixed tickets and comebacks by model, and by the operation that fixed the device */
	fixed: Map<string, number>;
	comebacks: Map<string, number>;
	fixedBy: Map<string, number>;
	backAfter: Map<string, number>;
	comebackCosts: ComebackCosts;
	paidMinor: number;
	costMinor: number;
	paidJobs: number;
	answers: LearnedAnswers;
}

export const emptyPast = (): Past => ({
	durations: emptyDurations(),
	walks: new Map(),
	fixed: new Map(),
	comebacks: new Map(),
	fixedBy: new Map(),
	backAfter: new Map(),
	comebackCosts: noComebackCosts(),
	paidMinor: 0,
	costMinor: 0,
	paidJobs: 0,
	answers: emptyAnswers()
});

/** What a job adds to the sums. */
export function shareOf(job: PastJob, catalog: Catalog): JobShare {
	const { model, closedAt, outcome, quotedMinor, accepted, customerKind: kind = 'unknown' } = job;
	const closed = closedAt !== null;
	const fixed = closed && outcome === 'fixed';
	const cameBack =
		closed && isComeback({ ...job, cause: job.cause ?? null }, job.earlierVisit, catalog.records.cause);
	const valueMinor = catalog.models.get(model)?.valueMinor ?? null;
	return {
		model,
		answer:
			quotedMinor === null || accepted === null
				? null
				: { priceMinor: quotedMinor, valueMinor, kind, accepted },
		durations: closed ? durationsOf(job, catalog) : [],
		comebackMinor: cameBack ? comebackCostMinor(jobBooks(job, catalog)) : null,
		fixed,
		fixedBy: fixed ? fixingOf(job.attempts) : [],
		backAfter: cameBack ? [...(job.fixedBefore ?? [])] : [],
		walk: closed ? walkOf(job, catalog) : null,
		paid: fixed && job.comebackOf === null ? paidOver(job, catalog) : null
	};
}

/** Operations after which the complaint was gone. */
export const fixingOf = (attempts: readonly { operation: string; resolved?: boolean | undefined }[]) => [
	...new Set(attempts.flatMap(({ operation, resolved }) => (resolved ? [operation] : [])))
];

/** How a job went to its end; null where it did not come to one: declined, not worth it, nothing confirmed either way. */
function walkOf({ outcome, faults, tests = [], attempts }: PastJob, catalog: Catalog): JobShare['walk'] {
	const ended = outcome === 'fixed' || outcome === 'not-fixed' || outcome === 'no-fault-found';
	if (!ended || !faults) return null;
	// the last answer of each counts, where it was first made
	const answers = new Map(tests.map(({ test, outcome }) => [test, outcome]));
	return {
		faults: setOf(faults),
		tests: [...answers].flatMap(([test, outcome]) => (catalog.tests.has(test) ? [{ test, outcome }] : [])),
		operations: attempts.flatMap(({ operation, part }) => (part ? [] : [operation])),
		fixed: outcome === 'fixed'
	};
}

/** Minutes of each attempt, with those of the steps of the same operation before it; steps that nothing ended are one too. */
function durationsOf({ model, attempts, counts = {} }: PastJob, catalog: Catalog): TakenMinutes[] {
	const steps = new Map<string, TakenMinutes>();
	const durations: TakenMinutes[] = [];
	for (const { operation, technician, minutes = 0, part } of attempts) {
		const firstUse = {
			operation,
			model,
			technician,
			minutes: (steps.get(operation)?.minutes ?? 0) + minutes,
			...countedFor(catalog, operation, counts)
		};
		if (part) steps.set(operation, firstUse);
		else {
			durations.push(firstUse);
			steps.delete(operation);
		}
	}
	return [...durations, ...steps.values()];
}

function countedFor(catalog: Catalog, operation: string, counts: Counts) {
	const countName = catalog.operations.get(operation)?.per?.count;
	const number = countName === undefined ? undefined : codeEntry(counts, countName);
	if (countName === undefined || number === undefined) return {};
	return { factor: countFactor(catalog, operation, counts), counted: { what: countName, number } };
}

function paidOver(job: PastJob, catalog: Catalog): JobShare['paid'] {
	const { paidMinor, partsMinor, labourMinor } = jobBooks(job, catalog);
	const costMinor = partsMinor + labourMinor;
	return paidMinor > 0 && costMinor > 0 ? { paidMinor, costMinor } : null;
}

/** Adds a job's share to the sums in place, or takes it out again with `times` = -1. */
export function addShare(past: Past, share: JobShare, times: 1 | -1 = 1): void {
	if (share.answer) addAnswer(past.answers, share.answer, times);
	for (const duration of share.durations) addDuration(past.durations, duration, times);
	if (share.walk) addWalk(past.walks, share.walk.faults, share.walk, times);
	for (const operation of share.fixedBy) bump(past.fixedBy, operation, times);
	for (const operation of share.backAfter) bump(past.backAfter, operation, times);
	if (share.comebackMinor !== null) {
		bump(past.comebacks, share.model, times);
		addComebackCost(past.comebackCosts, share.comebackMinor, times);
	}
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
	settled: ({ durations, walks, fixed, comebacks, fixedBy, backAfter, comebackCosts, answers, ...sums }) => ({
		...sums,
		comebackCosts: { ...comebackCosts },
		durations: {
			operations: sortedMap(durations.operations),
			models: sortedMap(durations.models),
			technicians: sortedMap(durations.technicians),
			counts: sortedMap(durations.counts)
		},
		walks: copyOfWalks(walks),
		fixed: sortedMap(fixed),
		comebacks: sortedMap(comebacks),
		fixedBy: sortedMap(fixedBy),
		backAfter: sortedMap(backAfter),
		answers: copyOfAnswers(answers)
	})
};

function bump(counts: Map<string, number>, key: string, amount: number): void {
	const count = (counts.get(key) ?? 0) + amount;
	if (count === 0) counts.delete(key);
	else counts.set(key, count);
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
