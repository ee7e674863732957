import { describe, expect, it } from 'vitest';
import { inventReturningWorld, type ReturningLaw } from '$worlds/returning-world';
import { DAY_MS } from '../units/instant';
import { seededRandom } from '../units/random';
import { comebackAlarms } from '$worlds/comebacks-in-one-go';
import { WATCHED } from './comeback-alarms';
import { followedJobs, knownAt, type FollowedJob } from './followed-jobs';

/** Early warnings of invented shops, looked at every few weeks: what rings where nothing grew worse, and how soon a bad lot is found. */
const LAW: ReturningLaw = {
	jobs: 1500,
	days: 700,
	technicians: 5,
	models: 12,
	operations: 6,
	spread: {},
	rate: 0.06,
	meanDays: 25,
	lotUses: 90,
	sorted: 3,
	second: 0
};
const SHOPS = 16;

/** Alarms that stood on any of the days, by row and moment. */
function everRang(
	jobs: readonly FollowedJob[],
	{ from, until, every }: Record<'from' | 'until' | 'every', number>
) {
	const rang = new Map<string, number>();
	for (let day = from; day <= until; day += every) {
		const alarms = comebackAlarms(knownAt(jobs, day * DAY_MS), day * DAY_MS);
		for (const kind of WATCHED)
			for (const [row, { at }] of alarms[kind]) rang.set(`${kind} ${row} ${at}`, at);
	}
	return rang;
}

describe.each<[string, Partial<ReturningLaw>]>([
	['all rows alike', {}],
	[
		'rows that differ, as they always did',
		{ spread: { technician: 0.3, model: 0.4, operation: 0.4, lot: 0.1 } }
	]
])('%s', (_, law) => {
	it('hardly more than one false alarm in 1,500 tickets, over operations, lots and technicians', () => {
		let alarms = 0;
		for (let seed = 1; seed <= SHOPS; seed++) {
			const world = inventReturningWorld(seededRandom(31 * seed), { ...LAW, ...law });
			const jobs = followedJobs(world.tickets, world.asOf, new Map());
			const rang = everRang(jobs, { from: 60, until: 760, every: 50 });
			alarms += [...rang.keys()].filter((key) => !key.startsWith('method')).length;
		}
		// of some 0.8, of so many shops the mean then lies under 1.25 with 98 chances of 100
		expect(alarms / SHOPS).toBeLessThan(1.25);
		expect(alarms).toBeGreaterThan(0);
	});
	it('a lot four times as bad is found within 35 uses, on average', () => {
		const uses: number[] = [];
		let missed = 0;
		for (let seed = 1; uses.length + missed < SHOPS; seed++) {
			const world = inventReturningWorld(seededRandom(31 * seed + 7), { ...LAW, ...law, badTimes: 4 });
			const jobs = followedJobs(world.tickets, world.asOf, new Map());
			const own = jobs.filter(({ levels }) => levels.lot.includes(world.bad!));
			const first = Math.ceil((own[0]?.closedAt ?? 0) / DAY_MS);
			// a lot that is used often enough, early enough to be known
			const known = (at: number) =>
				own.reduce(
					(sum, { closedAt }) =>
						sum + (closedAt < at ? 1 - Math.exp((closedAt - at) / (LAW.meanDays * DAY_MS)) : 0),
					0
				);
			if (known(world.asOf) < 60) continue;
			const rang = everRang(jobs, { from: first + 15, until: 760, every: 30 });
			const found = [...rang].filter(([key]) => key.startsWith(`lot ${world.bad} `)).map(([, at]) => at);
			if (found.length === 0) missed += 1;
			else uses.push(known(Math.min(...found)));
		}
		// work that seldom comes back at all shows little even when it does so four times as often
		expect(missed).toBeLessThanOrEqual(SHOPS / 4);
		expect(uses.reduce((sum, each) => sum + each, 0) / uses.length).toBeLessThan(35);
	});
});
