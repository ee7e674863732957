import { addAt, itemAt, valueAt } from '../../units/vector';
import type { Free, Problem } from './problem';

/** Times closer than this are the same: sums of fractions. */
export const CLOSE = 1e-9;

/**
 * Stretches of one technician that nothing is planned in yet, in order: the last may be without end. Arrays of a fixed size with a
 * count: a search builds many thousand plans a second.
 */
class Gaps {
	readonly from: Float64Array;
	readonly to: Float64Array;
	count: number;
	/** shorter ones hold no task of theirs, and are left out */
	readonly shortest: number;

	constructor(free: readonly Free[], shortest: number, room: number) {
		const long = free.filter(([from, to]) => to - from >= shortest - CLOSE);
		this.shortest = shortest;
		this.count = long.length;
		this.from = new Float64Array(long.length + room);
		this.to = new Float64Array(long.length + room);
		long.forEach(([from, to], i) => {
			this.from[i] = from;
			this.to[i] = to;
		});
	}

	become({ from, to, count }: Gaps): void {
		for (let i = 0; i < count; i++) {
			this.from[i] = valueAt(from, i);
			this.to[i] = valueAt(to, i);
		}
		this.count = count;
	}

	/** The first gap that ends at a moment or later. */
	#firstEndingBy(end: number): number {
		let [low, high] = [0, this.count];
		while (low < high) {
			const middle = (low + high) >> 1;
			if (valueAt(this.to, middle) < end) low = middle + 1;
			else high = middle;
		}
		return low;
	}

	earliest(minutes: number, notBefore: number): number {
		for (let i = this.#firstEndingBy(notBefore + minutes - CLOSE); i < this.count; i++) {
			const opens = valueAt(this.from, i);
			const start = opens > notBefore ? opens : notBefore;
			if (start + minutes <= valueAt(this.to, i) + CLOSE) return start;
		}
		return Infinity;
	}

	take(start: number, end: number): void {
		const { from, to, shortest } = this;
		const i = this.#firstEndingBy(end - CLOSE);
		const fitsBefore = start - valueAt(from, i) >= shortest - CLOSE;
		const fitsAfter = valueAt(to, i) - end >= shortest - CLOSE;
		if (fitsBefore && fitsAfter) {
			for (let k = this.count++; k > i; k--) {
				from[k] = valueAt(from, k - 1);
				to[k] = valueAt(to, k - 1);
			}
			from[i + 1] = end;
			to[i] = start;
		} else if (fitsBefore) to[i] = start;
		else if (fitsAfter) from[i] = end;
		else {
			this.count -= 1;
			for (let k = i; k < this.count; k++) {
				from[k] = valueAt(from, k + 1);
				to[k] = valueAt(to, k + 1);
			}
		}
	}
}

/** Places of a station that are taken from each of some moments on, until the next of them. */
class Places {
	readonly at: Float64Array;
	readonly taken: Float64Array;
	readonly places: number;
	count = 1;

	constructor(places: number, busy: readonly (readonly [number, number])[], room: number) {
		this.places = places;
		this.at = new Float64Array(1 + 2 * (busy.length + room));
		this.taken = new Float64Array(this.at.length);
		this.at[0] = -Infinity;
		for (const [from, to] of busy) this.take(from, to);
	}

	become({ at, taken: occupied, count }: Places): void {
		for (let i = 0; i < count; i++) {
			this.at[i] = valueAt(at, i);
			this.taken[i] = valueAt(occupied, i);
		}
		this.count = count;
	}

	/** The last moment of change that does not lie after one. */
	#lastUpTo(moment: number): number {
		let [low, high] = [0, this.count];
		while (low < high) {
			const middle = (low + high) >> 1;
			if (valueAt(this.at, middle) <= moment) low = middle + 1;
			else high = middle;
		}
		return low > 0 ? low - 1 : 0;
	}

	/** The earliest moment, not before one, from which a place is free for some minutes. */
	earliest(minutes: number, notBefore: number): number {
		let start = notBefore;
		for (let i = this.#lastUpTo(notBefore + CLOSE); i < this.count; i++) {
			const ends = i + 1 < this.count ? valueAt(this.at, i + 1) : Infinity;
			if (valueAt(this.taken, i) >= this.places) start = ends > start ? ends : start;
			else if (ends >= start + minutes - CLOSE) return start;
		}
		return start;
	}

	/** A moment at which what is taken may change: found, or put in. */
	#changeAt(moment: number): number {
		const { at, taken: occupied } = this;
		const previous = this.#lastUpTo(moment + CLOSE);
		if (moment - valueAt(at, previous) <= CLOSE) return previous;
		for (let k = this.count++; k > previous + 1; k--) {
			at[k] = valueAt(at, k - 1);
			occupied[k] = valueAt(occupied, k - 1);
		}
		at[previous + 1] = moment;
		occupied[previous + 1] = valueAt(occupied, previous);
		return previous + 1;
	}

	take(from: number, to: number): void {
		const first = this.#changeAt(from);
		const end = this.#changeAt(to);
		for (let i = first; i < end; i++) addAt(this.taken, i, 1);
	}
}

/** A plan as it is built: what is left of everybody's free time, and how many places of each station are taken. */
export class Timetable {
	readonly #gaps: readonly Gaps[];
	readonly #places: readonly Places[];

	constructor({ technicians, stations, jobs }: Problem) {
		const shortest = technicians.map(() => Infinity);
		let room = 0;
		for (const { tasks } of jobs) {
			room += tasks.length;
			for (const { by: doers } of tasks)
				for (const { technician, minutes } of doers)
					shortest[technician] = Math.min(shortest[technician] as number, minutes);
		}
		this.#gaps = technicians.map(({ free }, i) => new Gaps(free, shortest[i] as number, room));
		this.#places = stations.map(({ count, busy = [] }) => new Places(count, busy, room));
	}

	/** As another timetable of the same problem stands. */
	become(source: Timetable): void {
		for (let i = 0; i < this.#gaps.length; i++) itemAt(this.#gaps, i).become(itemAt(source.#gaps, i));
		for (let i = 0; i < this.#places.length; i++) itemAt(this.#places, i).become(itemAt(source.#places, i));
	}

	/**
	 * The earliest start of some minutes by one technician, not before a moment: within one free stretch, nothing else of theirs at the
	 * time, a place at the station (null: none is needed). Infinity where there is none.
	 */
	earliestStart(station: number | null, technician: number, minutes: number, from: number): number {
		const gaps = itemAt(this.#gaps, technician);
		if (station === null) return gaps.earliest(minutes, from);
		const places = itemAt(this.#places, station);
		let start = from;
		for (;;) {
			start = gaps.earliest(minutes, start);
			if (start === Infinity) return start;
			const slot = places.earliest(minutes, start);
			if (slot <= start + CLOSE) return start;
			start = slot;
		}
	}

	/** Takes a technician and a place from a start on. */
	take(station: number | null, technician: number, minutes: number, start: number): void {
		itemAt(this.#gaps, technician).take(start, start + minutes);
		if (station !== null) itemAt(this.#places, station).take(start, start + minutes);
	}
}
