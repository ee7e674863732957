import { DAY_MS, HOUR_MS, MINUTE_MS, type Instant } from '../units/instant';
import type { Random } from '../units/random';

/** Any moment of a day moved into its working hours, nine to six, keeping the order; to the minute. */
export function workingHours(at: Instant): Instant {
	const day = Math.floor(at / DAY_MS) * DAY_MS;
	return Math.round((day + 9 * HOUR_MS + ((at - day) * 9) / 24) / MINUTE_MS) * MINUTE_MS;
}

/** When a moment of working hours lies on the clock that never closes: the inverse of `workingHours`. */
export function aroundTheClock(at: Instant): Instant {
	const day = Math.floor(at / DAY_MS) * DAY_MS;
	return day + ((at - day - 9 * HOUR_MS) * 24) / 9;
}

/** Opening hours nine to six, six days a week, spread evenly over two years and sorted. */
export function openingTimes(random: Random, endsAt: Instant, count: number): Instant[] {
	const times: Instant[] = [];
	const today = Math.floor(endsAt / DAY_MS) * DAY_MS;
	while (times.length < count) {
		// the last few of any seed come within three days, so that the floor is never empty
		const recent = times.length < Math.min(26, count / 10);
		const day = today - Math.floor(random() * (recent ? 3 : 730)) * DAY_MS;
		const at = workingHours(day + random() * DAY_MS);
		if ((recent || new Date(day).getUTCDay() !== 0) && at < endsAt - 20 * MINUTE_MS) times.push(at);
	}
	return times.sort((a, b) => a - b);
}
