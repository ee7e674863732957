import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { followShelf, type LotIn, type Moved, type Used } from './shelf-flow';

/** Pieces through time: what is on hand, and where a use without a lot takes from. */

const lot = (name: string, receivedAt: number, quantity: number): LotIn => ({
	lot: name,
	receivedAt,
	quantity
});
const use = (key: string, at: number, quantity: number, from: string | null = null): Used => ({
	key,
	at,
	quantity,
	lot: from
});

describe('a use without a lot', () => {
	it('takes from the oldest that has come in by then and has stock, and is split where that is not enough', () => {
		const { taken, onHand, short } = followShelf(
			[lot('new', 5, 10), lot('old', 1, 3)],
			[],
			[use('a', 6, 2), use('b', 7, 4), use('c', 2, 1)]
		);
		expect(taken.get('c')).toEqual([{ lot: 'old', quantity: 1 }]);
		expect(taken.get('a')).toEqual([{ lot: 'old', quantity: 2 }]);
		expect(taken.get('b')).toEqual([{ lot: 'new', quantity: 4 }]);
		expect([...onHand]).toEqual([
			['old', 0],
			['new', 6]
		]);
		expect(short).toBe(0);
		const split = followShelf([lot('old', 1, 3), lot('new', 5, 10)], [], [use('a', 6, 5)]);
		expect(split.taken.get('a')).toEqual([
			{ lot: 'old', quantity: 3 },
			{ lot: 'new', quantity: 2 }
		]);
	});
	it('is short of what no lot has, before the lot came in as well', () => {
		const found = followShelf([lot('a', 5, 2)], [], [use('early', 4, 1), use('late', 6, 3)]);
		expect(found.taken.get('early')).toEqual([{ lot: null, quantity: 1 }]);
		expect(found.taken.get('late')).toEqual([
			{ lot: 'a', quantity: 2 },
			{ lot: null, quantity: 1 }
		]);
		expect(found).toMatchObject({ short: 2, shortAt: 6 });
		expect(followShelf([], [], []).shortAt).toBeNull();
	});
	it('at one moment what comes in is there, then what is moved, then uses in the order of their keys', () => {
		const moves: Moved[] = [{ lot: 'a', at: 5, quantity: -1 }];
		const { taken } = followShelf([lot('a', 5, 2)], moves, [use('y', 5, 1), use('x', 5, 1)]);
		expect(taken.get('x')).toEqual([{ lot: 'a', quantity: 1 }]);
		expect(taken.get('y')).toEqual([{ lot: null, quantity: 1 }]);
	});
	it('of lots that came in together the first by name', () => {
		expect(followShelf([lot('b', 1, 1), lot('a', 1, 1)], [], [use('u', 2, 1)]).taken.get('u')).toEqual([
			{ lot: 'a', quantity: 1 }
		]);
	});
	it('finds a lot again that counting filled up', () => {
		const { taken } = followShelf(
			[lot('a', 1, 1), lot('b', 2, 5)],
			[{ lot: 'a', at: 4, quantity: 2 }],
			[use('one', 3, 1), use('two', 3.5, 1), use('three', 5, 1)]
		);
		expect([...taken.values()].map(([first]) => first?.lot)).toEqual(['a', 'b', 'a']);
	});
});

it('a named lot is taken from whatever it holds, and never stands below nothing', () => {
	const { onHand, short, taken } = followShelf([lot('a', 1, 2)], [], [use('u', 2, 5, 'a')]);
	expect(onHand.get('a')).toBe(0);
	expect(short).toBe(3);
	expect(taken.size).toBe(0);
});
it('parts of pieces add up to the last digit', () => {
	const uses = Array.from({ length: 10 }, (_, i) => use(`u${i}`, 2, 0.1));
	expect(followShelf([lot('a', 1, 1)], [], uses)).toMatchObject({ short: 0 });
	expect(followShelf([lot('a', 1, 1)], [], uses).onHand.get('a')).toBe(0);
});

describe('whatever happens', () => {
	const events = fc.record({
		lots: fc.array(
			fc.record({ at: fc.integer({ min: 0, max: 20 }), quantity: fc.integer({ min: 1, max: 6 }) }),
			{
				maxLength: 6
			}
		),
		uses: fc.array(
			fc.record({
				at: fc.integer({ min: 0, max: 25 }),
				quantity: fc.integer({ min: 1, max: 4 }),
				named: fc.boolean()
			}),
			{ maxLength: 14 }
		)
	});
	/** One piece at a time, from a list of pieces: the plain way. */
	function pieceByPiece(lots: readonly LotIn[], uses: readonly Used[]) {
		const stock: { lot: string; since: number }[] = [];
		const taken = new Map<string, (string | null)[]>();
		const moments = [...new Set([...lots.map((l) => l.receivedAt), ...uses.map((u) => u.at)])].sort(
			(a, b) => a - b
		);
		for (const now of moments) {
			for (const one of lots.filter((l) => l.receivedAt === now))
				for (let i = 0; i < one.quantity; i++) stock.push({ lot: one.lot, since: now });
			for (const used of uses.filter((u) => u.at === now).sort((a, b) => (a.key < b.key ? -1 : 1))) {
				const from: (string | null)[] = [];
				for (let i = 0; i < used.quantity; i++) {
					const fit = stock
						.filter((piece) => used.lot === null || piece.lot === used.lot)
						.sort((a, b) => a.since - b.since || (a.lot < b.lot ? -1 : 1))[0];
					if (fit) stock.splice(stock.indexOf(fit), 1);
					from.push(fit?.lot ?? null);
				}
				taken.set(used.key, from);
			}
		}
		return { taken, left: stock };
	}
	it('pieces that came in are on hand, used or short (property), as piece by piece', () => {
		fc.assert(
			fc.property(events, ({ lots: came, uses: asked }) => {
				const lots = came.map(({ at, quantity }, i) => lot(`l${i}`, at, quantity));
				const uses = asked.map(({ at, quantity }, i) => use(`u${String(i).padStart(2, '0')}`, at, quantity));
				const found = followShelf(lots, [], uses);
				const plain = pieceByPiece(lots, uses);
				for (const { lot: name } of lots)
					expect(found.onHand.get(name)).toBe(plain.left.filter((piece) => piece.lot === name).length);
				for (const { key } of uses) {
					const each = found.taken
						.get(key)!
						.flatMap(({ lot: name, quantity }) => Array<string | null>(quantity).fill(name));
					expect(each).toEqual(plain.taken.get(key));
				}
				const all = (list: readonly { quantity: number }[]) =>
					list.reduce((sum, { quantity }) => sum + quantity, 0);
				const there = [...found.onHand.values()].reduce((a, b) => a + b, 0);
				expect(all(lots) + found.short).toBe(there + all(uses));
			}),
			{ numRuns: 300 }
		);
	});
});
