import { describe, expect, it } from 'vitest';
import { faultWordsList, type SaidOfFault } from './fault-words';

const said = (words: string, number: string, closedAt: number, model = 'm'): SaidOfFault => ({
	words,
	number,
	model,
	closedAt
});

describe('other faults in words', () => {
	it('are counted whatever their case, spaces and full stop, shown as they were said last', () =>
		expect(
			faultWordsList([
				said('Key stuck', 'K-1', 1, 'b'),
				said('key  stuck.', 'K-3', 3, 'a'),
				said('Magnet lost', 'K-4', 4),
				said('KEY STUCK', 'K-2', 2, 'b')
			])
		).toEqual([
			{ words: 'key  stuck.', number: 'K-3', model: 'a', closedAt: 3, times: 3, models: ['a', 'b'] },
			{ words: 'Magnet lost', number: 'K-4', model: 'm', closedAt: 4, times: 1, models: ['m'] }
		]));
	it('the latest first of those that are said as often, and nothing of nothing', () => {
		const list = faultWordsList([said('one', 'K-1', 1), said('two', 'K-2', 2), said('three', 'K-3', 2)]);
		expect(list.map(({ number }) => number)).toEqual(['K-2', 'K-3', 'K-1']);
		expect(faultWordsList([])).toEqual([]);
	});
});
