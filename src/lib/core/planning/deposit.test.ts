import { expect, it } from 'vitest';
import { depositMinor } from './deposit';

it.each([
	[12_000, 0.3, 3600],
	[12_345, 0.3, 3700],
	[12_149, 0.3, 3600],
	[8_000, 0, 0],
	[0, 0.5, 0]
])('of %d, with a share of %d, %d is asked for in advance', (price, share, asked) =>
	expect(depositMinor(price, share)).toBe(asked)
);
