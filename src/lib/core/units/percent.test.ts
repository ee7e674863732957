import fc from 'fast-check';
import { expect, it } from 'vitest';
import { percent, percentRange } from './percent';

it.each([
	[0, '0 %'],
	[1e-12, '<1 %'],
	[0.0049, '<1 %'],
	[0.005, '1 %'],
	[0.274, '27 %'],
	[0.275, '28 %'],
	[0.994, '99 %'],
	[0.995, '>99 %'],
	[1 - 1e-12, '>99 %'],
	[1, '100 %'],
	[NaN, '–']
])('%d is %s', (chance, words) => expect(percent(chance)).toBe(words));
it('never says nothing of what is possible, nor all of what is not certain', () =>
	fc.assert(
		fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (chance) => {
			const words = percent(chance);
			if (words === '0 %') expect(chance).toBe(0);
			if (words === '100 %') expect(chance).toBe(1);
		})
	));
it('a range says per cent once', () => {
	expect(percentRange(0.961, 0.993)).toBe('96–99 %');
	expect(percentRange(0.001, 0.999)).toBe('<1–>99 %');
});
