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
			this.from[i] = from[i] as number;
			this.to[i] = to[i] as number;
		}
		this.count = count;
	}

	/** The first gap that ends at a moment or later. */
	#firstEndingBy(end: number): number {
		let [low, high] = [0, this.count];
		while (low < high) {
			const middle = (low + high) >> 1;
			if ((this.to[middle] as number) < end) low = middle + 1;
			else high = middle;
		}
		return low;
	}

	earliest(minutes: number, notBefore: number): number {
		for (let i = this.#firstEndingBy(notBefore + minutes - CLOSE); i < this.count; i++) {
			const opens = this.from[i] as number;
			const start = opens > notBefore ? opens : notBefore;
			if (start + minutes <= (this.to[i] as number) + CLOSE) return start;
		}
		return Infinity;
	}

	take(start: number, end: number): void {
		const { from, to, shortest } = this;
		const i = this.#firstEndingBy(end - CLOSE);
		const fitsBefore = start - (from[i] as number) >= shortest - CLOSE;
		const fitsAfter = (to[i] as number) - end >= shortest - CLOSE;
		if (fitsBefore && fitsAfter) {
			for (let k = this.count++; k > i; k--) {
				from[k] = from[k - 1] as number;
				to[k] = to[k - 1] as number;
			}
			from[i + 1] = end;
			to[i] = start;
		} else if (fitsBefore) to[i] = start;
		else if (fitsAfter) from[i] = end;
		else {
			this.count -= 1;
			for (let k = i; k < this.count; k++) {
				from[k] = from[k + 1] as number;
				to[k] = to[k + 1] as number;
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
			this.at[i] = at[i] as number;
			this.taken[i] = occupied[i] as number;
		}
		this.count = count;
	}

	/** The last moment of change that does not lie after one. */
	#lastUpTo(moment: number): number {
		let [low, high] = [0, this.count];
		while (low < high) {
			const middle = (low + high) >> 1;
			if ((this.at[middle] as number) <= moment) low = middle + 1;
			else high = middle;
		}
		return low > 0 ? low - 1 : 0;
	}

	/** The earliest moment, not before one, from which a place is free for some minutes. */
	earliest(minutes: number, notBefore: number): number {
		let start = notBefore;
		for (let i = this.#lastUpTo(notBefore + CLOSE); i < this.count; i++) {
			const ends = i + 1 < this.count ? (this.at[i + 1] as number) : Infinity;
			if ((this.taken[i] as number) >= this.places) start = ends > start ? ends : start;
			else if (ends >= start + minutes - CLOSE) return start;
		}
		return start;
	}

	/** A moment at which what is taken may change: found, or put in. */
	#changeAt(moment: number): number {
		const { at, taken: occupied } = this;
		const previous = this.#lastUpTo(moment + CLOSE);
		if (moment - (at[previous] as number) <= CLOSE) return previous;
		for (let k = this.count++; k > previous + 1; k--) {
			at[k] = at[k - 1] as number;
			occupied[k] = occupied[k - 1] as number;
		}
		at[previous + 1] = moment;
		occupied[previous + 1] = occupied[previous] as number;
		return previous + 1;
	}

	take(from: number, to: number): void {
		const first = this.#changeAt(from);
		const end = this.#changeAt(to);
		for (let i = first; i < end; i++) this.taken[i] = (this.taken[i] as number) + 1;
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
		for (let i = 0; i < this.#gaps.length; i++) (this.#gaps[i] as Gaps).become(source.#gaps[i] as Gaps);
		for (let i = 0; i < this.#places.length; i++)
			(this.#places[i] as Places).become(source.#places[i] as Places);
	}

	/**
	 * The earliest start of some minutes by one technician, not before a moment: within one free stretch, nothing else of theirs at the
	 * time, a place at the station (null: none is needed). Infinity where there is none.
	 */
	earliestStart(station: number | null, technician: number, minutes: number, from: number): number {
		const gaps = this.#gaps[technician] as Gaps;
		if (station === null) return gaps.earliest(minutes, from);
		const places = this.#places[station] as Places;
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
		(this.#gaps[technician] as Gaps).take(start, start + minutes);
		if (station !== null) (this.#places[station] as Places).take(start, start + minutes);
	}
}
