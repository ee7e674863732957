import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import { DEMO_CATALOG } from '../simulation/demo-catalog';
import { counterWordOf, arrivalsFrom, inPlannedOrder } from './counter-word';
import type { WorkLeft } from '../bench/day/work-left';
import type { DayTask } from '../bench/day/plan-day';

const job = (number: string) => ({ number }) as WorkLeft;
const task = (number: string, start: number) => ({ number, start }) as DayTask;
const numbers = (work: readonly WorkLeft[]) => work.map(({ number }) => number);

describe('jobs as the plan begins them', () => {
	it.each<[string, DayTask[], string[]]>([
		['by the first task of each', [task('B', 10), task('A', 20), task('B', 30)], ['B', 'A', 'C']],
		['what is not planned keeps its order at the end', [task('C', 5)], ['C', 'A', 'B']],
		['nothing planned', [], ['A', 'B', 'C']]
	])('%s', (_, tasks, order) =>
		expect(numbers(inPlannedOrder([job('A'), job('B'), job('C')], { tasks }))).toEqual(order)
	);
});

it('28 days have 24 open ones, and a quarter of what comes in goes first', () =>
	expect(arrivalsFrom(48, 28, [10])).toEqual({ perDay: 2, minutes: [10], ahead: 0.25 }));

describe('what the counter says', () => {
	const repair = (priceMinor: number) => ({ kind: 'repair', price: { priceMinor } }) as never;
	const odds = { faults: [], learnedFrom: 7 } as never;
	const about = { catalog: buildCatalog(DEMO_CATALOG), askedAt: 20, queue: 3 };
	const none = { ends: [], draws: 0 };
	const said = (options: never[], together: never | null = null) =>
		counterWordOf({ odds, quote: { options, together } }, none, about);

	it('names the cheapest and the dearest repair, that of both faults with them', () => {
		expect(said([repair(9000), { kind: 'decline' } as never, repair(7000)]).prices).toEqual({
			lowMinor: 7000,
			highMinor: 9000
		});
		expect(said([repair(9000)], repair(15_000)).prices).toEqual({ lowMinor: 9000, highMinor: 15_000 });
		expect(said([{ kind: 'decline' } as never]).prices).toBeNull();
	});
	it('has a chance for a moment that was asked about', () => {
		const draws = { ends: [10, 20, 30, 40], draws: 4 };
		const word = counterWordOf({ odds, quote: { options: [], together: null } }, draws, about);
		expect(word.asked).toEqual({ at: 20, chance: 0.5 });
		expect([word.chance, word.from, word.queue, word.likely]).toEqual([0.9, 7, 3, null]);
	});
});
