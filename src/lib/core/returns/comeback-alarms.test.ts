import { describe, expect, it } from 'vitest';
import { day, returnTicket as ticket } from '$worlds/one-return';
import { seededRandom } from '../units/random';
import { comebackAlarms, comebackEffects } from '$worlds/comebacks-in-one-go';
import { followedJobs, knownAt } from './followed-jobs';

describe('an alarm that somebody put away', () => {
	const shop = Array.from({ length: 400 }, (_, i) => i).flatMap((i) => {
		const bad = i >= 200 && i % 4 === 0;
		const own = ticket(`a${i}`, {
			openedAt: day(i),
			closedAt: day(i),
			lots: [bad ? 'bad' : `good-${i % 3}`]
		});
		const returns = bad ? i % 8 === 0 : i % 16 === 1;
		if (!returns) return [own];
		return [
			own,
			ticket(`b${i}`, { openedAt: day(i + 5), closedAt: null, outcome: null, comebackOf: `a${i}` })
		];
	});
	const jobs = followedJobs(shop, day(410), new Map());
	it('names the row and what was to be expected; put away it is gone, and rings again when it goes on', () => {
		const put = (at: number) =>
			comebackAlarms(jobs, day(410), [{ of: 'lot', row: 'bad', at }]).lot.get('bad');
		// what was put away later than the moment that is looked at still stood then
		expect(put(day(410))).toEqual(comebackAlarms(jobs, day(410)).lot.get('bad'));
		expect(put(day(411))).toEqual(put(day(410)));
		expect(put(day(409))).toBeUndefined();
		const rang = comebackAlarms(jobs, day(410)).lot.get('bad');
		expect(rang).toBeDefined();
		expect([...comebackAlarms(jobs, day(410)).lot.keys()]).toEqual(['bad']);
		expect(rang?.comebacks).toBeGreaterThan(3 * (rang?.expected ?? Infinity));
		const away = (at: number) =>
			comebackAlarms(jobs, day(410), [{ of: 'lot', row: 'bad', at }]).lot.get('bad');
		expect(away(day(409))).toBeUndefined();
		expect(away(rang?.at as number)?.at ?? Infinity).toBeGreaterThan(rang?.at as number);
		const other = comebackAlarms(jobs, day(410), [{ of: 'lot', row: 'good-1', at: day(409) }]);
		expect(other.lot.get('bad')).toEqual(rang);
	});
});

describe('of rows that ring for the same comebacks', () => {
	/**
	 * Two operations, three lots of each, two technicians; of a bad row four jobs in ten come back in five days, of the others one in sixteen.
	 */
	const shop = (bad: (row: { operation: string; lot: string; technician: string }) => boolean) => {
		const random = seededRandom(5);
		const tickets = Array.from({ length: 600 }, (_, i) => i).flatMap((i) => {
			const operation = i % 2 === 0 ? 'port' : 'battery';
			const lot = `${operation}-${Math.floor(i / 4) % 3}`;
			const technician = random() < 0.4 ? 'ada' : 'bo';
			const row = { operation, lot, technician };
			const own = ticket(`a${i}`, {
				openedAt: day(i / 2),
				closedAt: day(i / 2),
				operations: [operation],
				lots: [lot],
				technicians: [technician]
			});
			if (random() >= (i > 300 && bad(row) ? 0.4 : 1 / 16)) return [own];
			return [
				own,
				ticket(`b${i}`, { openedAt: day(i / 2 + 5), closedAt: null, outcome: null, comebackOf: `a${i}` })
			];
		});
		const alarms = comebackAlarms(followedJobs(tickets, day(310), new Map()), day(310));
		return Object.fromEntries(Object.entries(alarms).map(([kind, rows]) => [kind, [...rows.keys()]]));
	};
	it('nothing wrong, nothing rings', () => {
		expect(shop(() => false)).toEqual({ operation: [], lot: [], technician: [], method: [] });
	});
	it('a lot alone that fails is named, not the operation it is used in, nor who fitted it', () => {
		const rang = shop(({ lot }) => lot === 'port-1');
		expect(rang).toEqual({ operation: [], lot: ['port-1'], technician: [], method: [] });
	});
	it('an operation that goes wrong with every lot is named itself', () => {
		const rang = shop(({ operation }) => operation === 'port');
		expect(rang.operation).toEqual(['port']);
		expect(rang.lot).toEqual([]);
	});
	it('somebody whose jobs come back with any lot is named', () => {
		const rang = shop(({ technician }) => technician === 'ada');
		expect(rang.technician).toEqual(['ada']);
		expect(rang.operation).toEqual([]);
	});
});

describe('what is usual, learnt on from what was known before', () => {
	it('comes to the same as learnt from nothing', () => {
		const random = seededRandom(8);
		const jobs = followedJobs(
			Array.from({ length: 500 }, (_, i) => i).flatMap((i) => {
				const own = ticket(`a${i}`, {
					closedAt: day(i),
					operations: [`o${i % 5}`],
					technicians: [`t${i % 3}`]
				});
				const back = { openedAt: day(i + 4), closedAt: null, outcome: null, comebackOf: `a${i}` };
				return random() < (i % 5 === 2 ? 0.3 : 0.08) ? [own, ticket(`b${i}`, back)] : [own];
			}),
			day(510),
			new Map()
		);
		const before = comebackEffects(knownAt(jobs, day(300)));
		const [cold, warm] = [comebackEffects(jobs), comebackEffects(jobs, { start: before })];
		for (const kind of ['operation', 'technician'] as const) {
			expect(warm.spread[kind]).toBeCloseTo(cold.spread[kind], 3);
			for (const [level, { effect }] of cold.of[kind])
				expect(warm.of[kind].get(level)?.effect).toBeCloseTo(effect, 2);
		}
	});
});
