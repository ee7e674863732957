import type { Catalog } from '$lib/core/catalog/catalog';
import {
	CHARGES,
	repairedDraws,
	type LearnedCharges,
	type RepairedDraws
} from '$lib/core/charging/learnt-charges';
import { withoutSimulated } from '$lib/core/diagnosis/learn/evidence';
import { LESSONS, lessonOf, type Before, type Learned, type Lesson } from '$lib/core/diagnosis/learn/learn';
import { causeCounts } from '$lib/core/comebacks/what-counts';
import { latestCounts } from '$lib/core/quoting/counts';
import { JOBS, shareOf, type JobShare, type Past, type PastJob } from '$lib/core/quoting/past';
import type { Learner } from '$lib/core/units/learner';
import { beforeRepair } from '$lib/core/units/stage';
import type { KnownGoodShelf } from '../catalog/known-good';
import type { HistoryTicket } from './history';

/** What a share is worked out with. */
export interface Shop {
	catalog: Catalog;
	shelf: KnownGoodShelf;
}

/** A learner with how it reads its share of a ticket; null where the ticket teaches it nothing. */
interface TicketLearner<Sum, Share> extends Learner<Sum, Share> {
	shareOf(ticket: HistoryTicket, shop: Shop): Share | null;
}

function lesson(
	{
		model,
		closedAt,
		customer,
		earlierVisit,
		evidence
	}: Pick<HistoryTicket, 'customer' | 'evidence'> & {
		model: string;
		closedAt: number | null;
		earlierVisit: Before | null;
	},
	{ catalog, shelf }: Shop
): Lesson | null {
	if (closedAt === null) return null;
	const { own_faults, cause, ...seen } = evidence();
	const found = cause === undefined ? undefined : catalog.records.cause.get(cause);
	// what the repair before made was not there when the device first came
	const ownFaults = own_faults ?? (found?.made ? (seen.faults ?? undefined) : undefined);
	const visit = earlierVisit && {
		...earlierVisit,
		...(found?.wrong_fault === undefined ? {} : { wrong: found.wrong_fault }),
		counts: causeCounts(cause ?? null, catalog.records.cause)
	};
	return lessonOf(
		{ model, closedAt, customer, ownFaults, earlierVisit: visit, ...seen },
		catalog,
		shelf.book
	);
}

/** A job with what was confirmed and tested on it; of an open one that is not known yet. */
function wholeJob({ job, earlierVisit, evidence }: HistoryTicket): PastJob {
	if (job.closedAt === null) return job;
	const { faults, own_faults: ownFaults = [], observations, counts } = evidence();
	return {
		...job,
		faults: faults?.filter((fault) => !ownFaults.includes(fault)) ?? null,
		tests: observations.filter(({ stage }) => beforeRepair(stage)),
		fixedBefore: earlierVisit?.fixedBy ?? [],
		counts: latestCounts(counts)
	};
}

/** Everything that a shop learns of its tickets; one more line, and the memory keeps it. */
const LEARNERS: {
	learned: TicketLearner<Learned, Lesson>;
	past: TicketLearner<Past, JobShare>;
	charges: TicketLearner<LearnedCharges, RepairedDraws>;
} = {
	learned: {
		...LESSONS,
		shareOf: ({ job, earlierVisit, ...ticket }, shop) => {
			const first = earlierVisit && {
				...earlierVisit,
				lesson: lesson({ ...earlierVisit, earlierVisit: null }, shop)
			};
			return lesson({ ...ticket, ...job, earlierVisit: first }, shop);
		}
	},
	past: { ...JOBS, shareOf: (ticket, { catalog }) => shareOf(wholeJob(ticket), catalog) },
	charges: {
		...CHARGES,
		shareOf: ({ job, evidence }, { catalog }) =>
			job.outcome === 'fixed' && job.closedAt !== null
				? repairedDraws({ ...withoutSimulated({ ...job, ...evidence() }), outcome: job.outcome }, catalog)
				: null
	}
};

type Learners = typeof LEARNERS;
type Subject = keyof Learners;
const SUBJECTS = Object.keys(LEARNERS) as readonly Subject[];
export type Sums = { [Name in Subject]: ReturnType<Learners[Name]['empty']> };
export type Shares = { [Name in Subject]: ReturnType<Learners[Name]['shareOf']> };

/** Each learner with its sum, of whatever sort they are. */
function forEachLearner(
	sums: Sums,
	visit: (learner: TicketLearner<unknown, unknown>, name: Subject) => void
): Sums {
	for (const name of SUBJECTS) visit(LEARNERS[name] as TicketLearner<unknown, unknown>, name);
	return sums;
}

export const emptySums = (): Sums =>
	Object.fromEntries(SUBJECTS.map((name) => [name, LEARNERS[name].empty()])) as unknown as Sums;
export const sharesOf = (ticket: HistoryTicket, shop: Shop): Shares =>
	Object.fromEntries(
		SUBJECTS.map((name) => [name, LEARNERS[name].shareOf(ticket, shop)])
	) as unknown as Shares;
export const addShares = (sums: Sums, shares: Shares): Sums =>
	forEachLearner(sums, (learner, name) => {
		if (shares[name] !== null) learner.add(sums[name], shares[name]);
	});
export const removeShares = (sums: Sums, shares: Shares): Sums =>
	forEachLearner(sums, (learner, name) => {
		if (shares[name] !== null) learner.remove(sums[name], shares[name]);
	});
export const settledSums = (sums: Sums): Sums =>
	Object.fromEntries(
		SUBJECTS.map((name) => [name, (LEARNERS[name] as TicketLearner<unknown, unknown>).settled(sums[name])])
	) as unknown as Sums;
