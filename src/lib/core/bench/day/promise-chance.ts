import { quantileSorted, sortUp } from '../../statistics/quantile';
import { HOUR_MS, MINUTE_MS, type Instant } from '../../units/instant';
import { isOpen, type OpeningHours } from '../../units/calendar';
import { drawIndex, drawNormal, type Random } from '../../units/random';
import { decode } from '../schedule/decode';
import { problemOf } from '../schedule/problem';
import type { Span } from './free-time';
import { dayRequest, type Bench } from './plan-day';
import type { WorkLeft } from './work-left';

/** What comes in while a job waits its turn. */
export interface Arrivals {
	/** a day that the shop is open */
	perDay: number;
	/** hands of jobs as they came in of late, minutes */
	minutes: readonly number[];
	/** share of them that are done before what was there already */
	ahead: number;
}

export interface PromiseInput {
	/** what is in the house, in the order in which the plan begins it */
	work: readonly WorkLeft[];
	/** the job that is to be promised; one of `work`, or beside it */
	job: WorkLeft;
	bench: Bench;
	/** spread of a task's minutes, standard deviation of their logarithms */
	sigma: number;
	arrivals: Arrivals;
	/** when the shop is open: arrivals come then */
	open: readonly Span[];
	now: Instant;
}

/** When a job may be ready: moments, one a draw, earliest first; those that did not end within what was planned are left out. */
export interface ReadyDraws {
	ends: Instant[];
	draws: number;
}

/** So many days are drawn: a share of .9 is then known to about .02. A choice. */
const DRAWS = 200;

/**
 * Plays the days ahead many times: every task takes as long as such tasks do (lognormal about its mean), others come in and some go
 * first, hands take what is due in the order of the plan. Monte Carlo; the same random numbers give the same answer.
 */
export function* readyDrawsInSteps(
	input: PromiseInput,
	random: Random,
	draws = DRAWS
): Generator<void, ReadyDraws> {
	const { work, job, bench, now, sigma } = input;
	const otherWork = work.filter(({ number }) => number !== job.number);
	const ends: Instant[] = [];
	for (let i = 0; i < draws; i++) {
		yield;
		const arrivals = arrivalsDrawn(input, random);
		const inOrder = [...otherWork, ...arrivals, job].map((job) => stretched(job, sigma, random));
		const { request } = dayRequest(inOrder, bench, now);
		const problem = problemOf(request);
		const order = problem.jobs.flatMap(({ tasks }, j) => tasks.map(() => j));
		const mine = problem.jobs.length - 1;
		const plan = decode(problem, { order, doers: problem.jobs.map(({ tasks }) => tasks.map(() => -1)) });
		if (plan.dropped.has(mine) || problem.jobs[mine]?.cut) continue;
		const last = plan.placed.filter(({ task }) => task.job === mine).at(-1);
		ends.push(last ? now + last.end * MINUTE_MS : now);
	}
	return { ends: sortUp(ends), draws };
}

function stretched(job: WorkLeft, sigma: number, random: Random): WorkLeft {
	// one factor a job: a bad board is bad in every step; the mean stays what it is
	const factor = Math.exp(sigma * drawNormal(random) - (sigma * sigma) / 2);
	const tasks = job.tasks.map((task) => ({
		...task,
		by: Object.fromEntries(Object.entries(task.by).map(([code, minutes]) => [code, minutes * factor]))
	}));
	return { ...job, tasks };
}

/** Jobs that come in meanwhile and go first, at times at which the shop is open. */
function arrivalsDrawn({ arrivals, open, bench }: PromiseInput, random: Random): WorkLeft[] {
	const { perDay, minutes, ahead } = arrivals;
	if (minutes.length === 0 || perDay * ahead <= 0) return [];
	const came: WorkLeft[] = [];
	const openMs = open.reduce((sum, [from, to]) => sum + to - from, 0);
	const days = new Set(open.map(([from]) => Math.floor(from / (24 * HOUR_MS)))).size;
	// a Poisson stream over the open hours: gaps are exponential
	const meanGap = openMs / Math.max(1e-9, days * perDay * ahead);
	for (let at = gap(meanGap, random); at < openMs; at += gap(meanGap, random)) {
		const hands = minutes[
			drawIndex(
				random,
				minutes.map(() => 1)
			)
		] as number;
		came.push({
			number: `arrival ${came.length}`,
			from: momentWithin(open, at),
			due: null,
			weight: 1,
			holder: null,
			tasks: [
				{
					code: 'work',
					label: '',
					by: Object.fromEntries(bench.technicians.map(({ code }) => [code, hands])),
					skill: null,
					station: null,
					wait: 0
				}
			],
			begun: null,
			pinned: null
		});
	}
	return came;
}

const gap = (mean: number, random: Random) => -Math.log(1 - random()) * mean;

function momentWithin(open: readonly Span[], passed: number): Instant {
	let remaining = passed;
	for (const [from, to] of open) {
		if (remaining < to - from) return from + remaining;
		remaining -= to - from;
	}
	return open.at(-1)?.[1] ?? 0;
}

/** A share of the draws that end up to a moment: the chance of keeping a promise. */
export const chanceBy = ({ ends, draws }: ReadyDraws, at: Instant): number =>
	draws === 0 ? 0 : ends.filter((end) => end <= at).length / draws;

const HALF_HOUR = HOUR_MS / 2;
/** A promise is given up to so far ahead, in steps of half an hour. */
const MOST_STEPS = 2 * 24 * 40;

/**
 * The earliest half hour at which a promise is kept with a chance, the shop being open: nothing is promised for a closed day.
 * @returns null where no such moment is known: the days that were planned are not enough
 */
export function honestMoment(draws: ReadyDraws, chance: number, hours: OpeningHours): Instant | null {
	const needed = Math.ceil(chance * draws.draws);
	if (draws.ends.length < needed || needed === 0) return null;
	let at = Math.ceil((draws.ends[needed - 1] as Instant) / HALF_HOUR) * HALF_HOUR;
	for (let step = 0; step < MOST_STEPS; step++) {
		// at closing time a customer can still come
		if (isOpen(at, hours) || isOpen(at - 1, hours)) return at;
		at += HALF_HOUR;
	}
	return null;
}

/** The middle of the draws and the ends of their middle 80 %. */
export const spreadOfDraws = ({ ends }: ReadyDraws) =>
	ends.length === 0
		? null
		: { low: quantileSorted(ends, 0.1), usual: quantileSorted(ends, 0.5), high: quantileSorted(ends, 0.9) };
