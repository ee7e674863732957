import type { Asked } from '$lib/core/stock/demand';
import { drawIndex, drawNormal, type Random } from '$lib/core/units/random';

/** Invented parts whose demand and deliveries follow a known law: jobs by chance, sizes, ways that take gamma-like times. */
export interface StockedPart {
	jobsPerWeek: number;
	/** chance of each number of pieces of a job, from one on */
	sizes: readonly number[];
	lead: { mean: number; sd: number };
}

export function inventStockedPart(random: Random): StockedPart {
	const many = random() < 0.4;
	return {
		jobsPerWeek: Math.exp(-1.6 + 3 * random()),
		sizes: many ? [0.6, 0.25, 0, 0.15] : [1],
		lead: { mean: 4 + 14 * random(), sd: 1 + 3 * random() }
	};
}

const drawExponential = (random: Random, rate: number) => -Math.log(1 - random()) / rate;

/** Jobs of so many weeks; the rate is another before `changed`, where it is given. */
export function jobsOfPart(
	random: Random,
	part: StockedPart,
	weeks: number,
	changed?: { week: number; before: number }
): Asked[] {
	const asked: Asked[] = [];
	for (let week = 0; ;) {
		const rate = changed && week < changed.week ? changed.before : part.jobsPerWeek;
		const next = week + drawExponential(random, rate);
		// a wait over the change begins anew there
		if (changed && week < changed.week && next >= changed.week) {
			week = changed.week;
			continue;
		}
		week = next;
		if (week >= weeks) return asked;
		asked.push({ week, quantity: drawIndex(random, part.sizes) + 1 });
	}
}

/** Days of one delivery: normal, never under half a day; the mean of a gamma with the same spread is as near as nothing. */
export const drawLeadDays = (random: Random, { lead }: StockedPart): number =>
	Math.max(0.5, lead.mean + lead.sd * drawNormal(random));

/** A shelf run for many years by a point and a quantity: share of pieces served at once, and pieces on hand on average. */
export function runShelf(
	random: Random,
	part: StockedPart,
	rule: { reorderAt: number; quantity: number },
	weeks: number
): { served: number; onHand: number } {
	const first = rule.reorderAt + rule.quantity;
	let [week, hand, position, asked, served, area] = [0, first, first, 0, 0, 0];
	let late = 0;
	const coming: { week: number; pieces: number }[] = [];
	const arrive = (until: number) => {
		for (;;) {
			const next = coming.findIndex((one) => one.week <= until);
			if (next < 0) return;
			const soonest = coming.reduce(
				(best, one, i) => (one.week < (coming[best] as { week: number }).week ? i : best),
				next
			);
			const [one] = coming.splice(soonest, 1) as [{ week: number; pieces: number }];
			area += hand * (one.week - week);
			week = one.week;
			const owed = Math.min(late, one.pieces);
			late -= owed;
			hand += one.pieces - owed;
		}
	};
	while (week < weeks) {
		const next = week + drawExponential(random, part.jobsPerWeek);
		arrive(next);
		area += hand * (next - week);
		week = next;
		const pieces = drawIndex(random, part.sizes) + 1;
		const now = Math.min(pieces, hand);
		asked += pieces;
		served += now;
		hand -= now;
		late += pieces - now;
		position -= pieces;
		while (position <= rule.reorderAt) {
			position += rule.quantity;
			coming.push({ week: week + drawLeadDays(random, part) / 7, pieces: rule.quantity });
		}
	}
	return { served: served / asked, onHand: area / week };
}
