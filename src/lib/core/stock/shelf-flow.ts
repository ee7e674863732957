import { itemAt } from '../units/vector';
import type { Instant } from '../units/instant';

/** A lot as it came in. */
export interface LotIn {
	lot: string;
	receivedAt: Instant;
	quantity: number;
}

/** What changed a lot beside its use; signed. */
export interface Moved {
	lot: string;
	at: Instant;
	quantity: number;
}

/** Pieces that a ticket used. */
export interface Used {
	/** what tells it from other uses */
	key: string;
	at: Instant;
	quantity: number;
	/** the lot that it was taken from; null where nobody said */
	lot: string | null;
}

/** Pieces of one use, and the lot that they come from; null where none was left. */
export interface Taken {
	lot: string | null;
	quantity: number;
}

export interface ShelfFlow {
	/** by use without a lot: what it was taken from, in the order of the lots */
	taken: Map<string, Taken[]>;
	/** by lot: pieces that are left; never below 0 */
	onHand: Map<string, number>;
	/** pieces that were used without being on the shelf, and when it happened last */
	short: number;
	shortAt: Instant | null;
}

/** Pieces are told apart to a millionth: wire and adhesive come in parts. */
const CLOSE = 1e-6;
const round = (quantity: number) => Math.round(quantity / CLOSE) * CLOSE;
/** To the six digits that the record keeps. */
const tidy = (quantity: number) => Number(round(quantity).toFixed(6));

type Event =
	| { at: Instant; order: 0; lot: LotIn }
	| { at: Instant; order: 1; moved: Moved }
	| { at: Instant; order: 2; used: Used };

/**
 * Follows the pieces of one part through time: lots come in, are counted, scrapped and used. A use without a lot takes from
 * the oldest lot that has come in by then and has stock, and is split where that is not enough; what no lot has is short. Of equal
 * moments what comes in is first, then what is moved, then what is used in the order of their keys.
 * @example followShelf(lots, moves, uses).onHand.get('l-0031') // 3
 */
export function followShelf(
	lots: readonly LotIn[],
	moves: readonly Moved[],
	uses: readonly Used[]
): ShelfFlow {
	const byAge = [...lots].sort((a, b) => a.receivedAt - b.receivedAt || (a.lot < b.lot ? -1 : 1));
	const events: Event[] = [
		...byAge.map((lot): Event => ({ at: lot.receivedAt, order: 0, lot })),
		...moves.map((moved): Event => ({ at: moved.at, order: 1, moved })),
		...[...uses]
			.sort((a, b) => (a.key < b.key ? -1 : a.key > b.key ? 1 : 0))
			.map((used): Event => ({ at: used.at, order: 2, used }))
	];
	events.sort((a, b) => a.at - b.at || a.order - b.order);
	const remaining = new Map(byAge.map(({ lot }) => [lot, 0]));
	const pieces: ShelfFlow['taken'] = new Map();
	const lotCodes: string[] = [];
	let [first, short] = [0, 0];
	let shortAt: Instant | null = null;
	const take = (lot: string, quantity: number) => remaining.set(lot, (remaining.get(lot) ?? 0) - quantity);
	for (const event of events) {
		if ('lot' in event) {
			const { lot, quantity } = event.lot;
			lotCodes.push(lot);
			take(lot, -quantity);
		} else if ('moved' in event) {
			take(event.moved.lot, -event.moved.quantity);
			// what was empty may have been found again
			if (event.moved.quantity > 0) first = 0;
		} else if (event.used.lot !== null) take(event.used.lot, event.used.quantity);
		else {
			const parts: Taken[] = [];
			let open = event.used.quantity;
			while (first < lotCodes.length && (remaining.get(itemAt(lotCodes, first)) ?? 0) <= CLOSE) first++;
			for (let i = first; i < lotCodes.length && open > CLOSE; i++) {
				const lot = itemAt(lotCodes, i);
				const quantity = Math.min(open, remaining.get(lot) ?? 0);
				if (quantity <= CLOSE) continue;
				take(lot, quantity);
				parts.push({ lot, quantity: tidy(quantity) });
				open -= quantity;
			}
			if (open > CLOSE) {
				parts.push({ lot: null, quantity: tidy(open) });
				short += open;
				shortAt = event.at;
			}
			pieces.set(event.used.key, parts);
		}
	}
	const onHand = new Map([...remaining].map(([lot, quantity]) => [lot, Math.max(0, tidy(quantity))]));
	const oversold = [...remaining.values()].reduce((sum, quantity) => sum + Math.max(0, -quantity), 0);
	return { taken: pieces, onHand, short: tidy(short + oversold), shortAt };
}
