import { itemAt } from '../units/vector';
/** One that was followed: until its event, or until nothing more was seen of it. */
export interface Followed {
	time: number;
	event: boolean;
}

/** After each time at which something happened. */
export interface SurvivalStep {
	time: number;
	atRisk: number;
	events: number;
	/** chance to be without the event beyond `time` */
	survival: number;
	/** Greenwood's sum, events / (at risk · (at risk - events)): the variance of survival over its square; infinite once none is left */
	greenwood: number;
}

/**
 * Product-limit estimate of survival; at a tied time events come before censorings. Source: E. L. Kaplan, P. Meier, Journal of
 * the American Statistical Association 53:457-481 (1958); variance: M. Greenwood, Reports on Public Health 33 (1926).
 * @returns steps in the order of time, one for each time with an event
 */
export function kaplanMeier(followed: readonly Followed[]): SurvivalStep[] {
	const sorted = [...followed].sort((a, b) => a.time - b.time);
	const steps: SurvivalStep[] = [];
	let [survival, greenwood, at] = [1, 0, 0];
	while (at < sorted.length) {
		const time = itemAt(sorted, at).time;
		const atRisk = sorted.length - at;
		let events = 0;
		for (; at < sorted.length && itemAt(sorted, at).time === time; at++) {
			if (itemAt(sorted, at).event) events++;
		}
		if (events === 0) continue;
		survival *= 1 - events / atRisk;
		greenwood += atRisk > events ? events / (atRisk * (atRisk - events)) : Infinity;
		steps.push({ time, atRisk, events, survival, greenwood });
	}
	return steps;
}

/** Survival beyond a time, by its steps; 1 before the first. */
export const survivalAt = (steps: readonly SurvivalStep[], time: number): number => {
	let [low, high] = [0, steps.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if (itemAt(steps, middle).time <= time) low = middle + 1;
		else high = middle;
	}
	return steps[low - 1]?.survival ?? 1;
};
