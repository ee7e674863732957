import { jobsWithin, meanSize, type Demand } from './demand';
import { leadDaysDrawn, type LeadTime } from './lead-time';

/** Beyond this many pieces on a shelf nothing is looked at. A bound of the work. */
const MOST_PIECES = 5000;
/** Jobs less likely than this altogether are left out. */
const TAIL = 1e-9;

/**
 * Chances of each number of pieces that are asked for while an order is on its way: jobs come by a Poisson process with a doubt
 * about its rate, each asks for its pieces, and the way takes one of the drawn times (compound distribution by convolution).
 */
export function askedWhileWaiting(demand: Demand, lead: Pick<LeadTime, 'mean' | 'sd'>): number[] {
	const times = leadDaysDrawn(lead);
	const total: number[] = [];
	for (const days of times) {
		const pieces = compound(jobsOf(demand, days / 7), demand.sizes);
		pieces.forEach((chance, k) => (total[k] = (total[k] ?? 0) + chance / times.length));
	}
	return total;
}

function jobsOf(demand: Demand, weeks: number): number[] {
	const mean = (demand.shape / demand.rate) * weeks;
	let maxPieces = Math.min(MOST_PIECES, Math.ceil(mean + 10 * Math.sqrt(mean + 1) + 10));
	for (;;) {
		const chances = jobsWithin(demand, weeks, maxPieces);
		const sum = chances.reduce((a, b) => a + b, 0);
		// a rate that is all but sure is worked out less sharply: its last chance says that no more come
		const isCut = (chances.at(-1) as number) < TAIL / 1000 && maxPieces > mean;
		if (sum > 1 - TAIL || isCut || maxPieces >= MOST_PIECES) return chances;
		maxPieces *= 2;
	}
}

/** Pieces of a random number of jobs, each of a random size: by Horner's rule over convolutions. */
function compound(jobs: readonly number[], sizes: readonly number[]): number[] {
	if (sizes.length === 1) return [...jobs];
	let sum: number[] = [jobs.at(-1) ?? 0];
	for (let k = jobs.length - 2; k >= 0; k--) {
		sum = convolve(sum, sizes);
		sum[0] = (sum[0] ?? 0) + (jobs[k] as number);
	}
	return sum;
}

/** A sum shifted by each size with its chance; the result begins at 0 pieces. */
function convolve(sum: readonly number[], sizes: readonly number[]): number[] {
	const sums = Array.from({ length: Math.min(MOST_PIECES, sum.length + sizes.length) }, () => 0);
	sum.forEach((chance, i) => {
		if (chance < 1e-15) return;
		sizes.forEach((size, j) => {
			const at = i + j + 1;
			if (at < sums.length) sums[at] = (sums[at] as number) + chance * size;
		});
	});
	return sums;
}

/** Share of a job's pieces that are served at once from `stock` pieces, by stock from 0 on. */
export function servedFrom(
	requestChances: readonly number[],
	sizes: readonly number[],
	stockLevel: number
): number[] {
	const mean = meanSize({ sizes });
	// pieces of a job that a shelf of y serves: E[min(X, y)]
	const serves = Array.from({ length: stockLevel + 1 }, (_, y) =>
		sizes.reduce((sum, chance, i) => sum + chance * Math.min(i + 1, y), 0)
	);
	return Array.from({ length: stockLevel + 1 }, (_, position) => {
		let sum = 0;
		for (let d = 0; d < Math.min(requestChances.length, position + 1); d++)
			sum += (requestChances[d] as number) * (serves[position - d] as number);
		return sum / mean;
	});
}

export interface ReorderPoint {
	reorderAt: number;
	/** share of pieces that are served at once with it */
	fill: number;
}

/**
 * The smallest stock (on hand, less reserved, plus on order) at which `quantity` is ordered so that a share of at least
 * `service` of all pieces is served at once. In the long run the stock that is there or on its way lies evenly between one above the
 * point and the point plus the quantity, whatever the sizes of the jobs, as long as each order is of the quantity or multiples
 * (Hadley & Whitin, Analysis of Inventory Systems, 1963, ch. 4; from memory); what is on the shelf is that less what was asked
 * for on the way.
 * @param service share of pieces, below 1
 */
export function reorderPoint(
	demand: Demand,
	lead: Pick<LeadTime, 'mean' | 'sd'>,
	quantity: number,
	service: number
): ReorderPoint {
	const requestChances = askedWhileWaiting(demand, lead);
	const maxPieces = Math.min(2 * MOST_PIECES, requestChances.length + quantity + demand.sizes.length);
	const served = servedFrom(requestChances, demand.sizes, maxPieces);
	const upTo = [0];
	for (const share of served.slice(1)) upTo.push((upTo.at(-1) as number) + share);
	const fillAt = (point: number) =>
		((upTo[Math.min(maxPieces, point + quantity)] as number) - (upTo[point] as number)) /
		(Math.min(maxPieces, point + quantity) - point);
	for (let point = 0; point + quantity < maxPieces; point++) {
		const fill = fillAt(point);
		if (fill >= service) return { reorderAt: point, fill };
	}
	const last = Math.max(0, maxPieces - quantity);
	return { reorderAt: last, fill: fillAt(last) };
}
