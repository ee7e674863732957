import type { Instant } from '../units/instant';
import { WATCHED, type Watched } from './comeback-alarms';

/** More at a time are not looked into by anybody. A choice. */
const MOST_ALARMS = 6;

/** The alarms that rang last, and how many of each kind rang before them. */
export function newestAlarms<Rang extends { of: Watched; at: Instant }>(
	alarms: readonly Rang[]
): { newest: Rang[]; olderAlarms: { of: Watched; count: number }[] } {
	const sorted = [...alarms].sort((a, b) => b.at - a.at);
	const older = sorted.slice(MOST_ALARMS);
	const counts = WATCHED.map((kind) => ({
		of: kind,
		count: older.filter((alarm) => alarm.of === kind).length
	}));
	return { newest: sorted.slice(0, MOST_ALARMS), olderAlarms: counts.filter(({ count }) => count > 0) };
}
