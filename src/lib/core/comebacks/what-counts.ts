import type { Instant } from '../units/instant';

/** The shop's causes, as far as they say whether a comeback speaks against the earlier work. */
export type Causes = ReadonlyMap<string, { counts?: boolean | undefined }>;

/** Whether a comeback of this cause speaks against the earlier work: one that nobody has explained yet does. */
export const causeCounts = (cause: string | null, causes: Causes): boolean =>
	cause === null || (causes.get(cause)?.counts ?? true);

/** A ticket that names an earlier one. */
export interface ReturnVisit {
	number: string;
	comebackOf: string | null;
	openedAt: Instant;
	/** why it came back; null where nobody said */
	cause: string | null;
}

/**
 * Whether a visit is a comeback of an earlier job: that was closed as fixed, the device came in again not before that, and the cause
 * speaks against the work. One meaning for rates, prices, the reserve and what a comeback costs.
 */
export function isComeback(
	{ openedAt, cause }: Pick<ReturnVisit, 'openedAt' | 'cause'>,
	first: { outcome: string | null; closedAt: Instant | null } | null | undefined,
	causes: Causes
): boolean {
	if (!first || first.outcome !== 'fixed' || first.closedAt === null) return false;
	return openedAt >= first.closedAt && causeCounts(cause, causes);
}

/** The visit on which a job came back. */
export interface CameBackOn {
	number: string;
	at: Instant;
	cause: string | null;
}

/**
 * The comeback of each job that had one before a moment: of several the one that was opened first, of those the lowest number.
 * @param fixed when each job was closed as fixed, by its number
 */
export function firstComebacks(
	visits: Iterable<ReturnVisit>,
	fixed: ReadonlyMap<string, Instant>,
	asOf: Instant,
	causes: Causes
): Map<string, CameBackOn> {
	const back = new Map<string, CameBackOn>();
	for (const { number, comebackOf, openedAt, cause } of visits) {
		const closedAt = comebackOf === null ? undefined : fixed.get(comebackOf);
		if (comebackOf === null || closedAt === undefined || openedAt >= asOf) continue;
		if (!isComeback({ openedAt, cause }, { outcome: 'fixed', closedAt }, causes)) continue;
		const visits = back.get(comebackOf);
		const earlier = !visits || openedAt < visits.at || (openedAt === visits.at && number < visits.number);
		if (earlier) back.set(comebackOf, { number, at: openedAt, cause });
	}
	return back;
}
