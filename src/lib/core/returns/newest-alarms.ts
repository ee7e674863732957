import type { Instant } from '../units/instant';
import { WATCHED, type Watched } from './comeback-alarms';

/** More at a time are not looked into by anybody. A choice. */
const MOST_ALARMS = 6;

/** The alarms that rang last, and how many of each kind rang before them. */
export function newestAlarms<Rang extends { of: Watched; at: Instant }>(
	standing: readonly Rang[]
): { newest: Rang[]; olderAlarms: { of: Watched; count: number }[] } {
	const sorted = [...standing].sort((a, b) => b.at - a.at);
	const older = sorted.slice(MOST_ALARMS);
	const counts = WATCHED.map((of) => ({ of, count: older.filter((each) => each.of === of).length }));
	return { newest: sorted.slice(0, MOST_ALARMS), olderAlarms: counts.filter(({ count }) => count > 0) };
}
