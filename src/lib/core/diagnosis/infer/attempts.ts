import { addAt, itemAt, valueAt } from '../../units/vector';
import type { FaultSet } from '../fault-sets';

/** An operation as the fault model sees it. */
export interface Remedy {
	code: string;
	/** indices of the faults that it fixes */
	fixes: ReadonlySet<number>;
	/** chance that it works where it addresses a fault; all it addresses at once */
	success: number;
	/** chance that it makes a fault of its own; nothing without */
	harm?: number;
}

/** A complaint can go by itself, and a sound repair can be misjudged: neither is impossible. */
const SLIP = 0.02;

export const withoutFixed = (set: FaultSet, remedy: Remedy): FaultSet =>
	set.filter((fault) => !remedy.fixes.has(fault));

/** A fault that a repair may make, and how often it is that one where it makes any. */
export interface OwnFault {
	fault: number;
	chance: number;
}

/** Chances of what was seen, by what is left. */
export type Seen = (faults: FaultSet) => number;

/** What may be left of a set of faults, with its chance. */
export interface Left {
	left: FaultSet;
	chance: number;
}

/**
 * The courses that repairs may have taken on a set of faults, as weights by what they leave of it. Forward over what may be
 * left, as bits, once without a fault of the repairs' own and once with each of those: with k faults and m own ones
 * 2^k (m + 1) states, whatever the number of attempts. At most one fault of their own is thought of.
 */
export class Courses {
	readonly #set: FaultSet;
	readonly #own: readonly OwnFault[];
	/** by own fault (0: none, then each of them), by what is left of the set in bits */
	#left: Float64Array[];
	/** the same once more, to write the next moment into */
	#spare: Float64Array[];
	/** nothing was left, and the complaint was taken to stay all the same */
	#ended = 0;

	constructor(set: FaultSet, ownFaults: readonly OwnFault[] = []) {
		this.#set = set;
		this.#own = ownFaults.filter(({ fault }) => !set.includes(fault));
		this.#left = [-1, ...this.#own.keys()].map(() => new Float64Array(1 << set.length));
		this.#spare = this.#own.length > 0 ? this.#left.map(({ length }) => new Float64Array(length)) : [];
		itemAt(this.#left, 0).fill(1, -1);
	}

	/** The likelihood of everything so far. */
	get total(): number {
		let sum = this.#ended;
		for (const weights of this.#left) for (let i = 0; i < weights.length; i++) sum += valueAt(weights, i);
		return sum;
	}

	/**
	 * One more attempt after which the complaint stayed: it works on all that it addresses or on nothing, and apart from
	 * that it may make a fault of its own.
	 */
	fail(remedy: Remedy): void {
		if (this.#own.length === 0) return this.#failPlainly(remedy);
		const keeps = this.#keptBy(remedy);
		const next = this.#spare;
		for (const weights of next) weights.fill(0);
		const whole = itemAt(this.#left, 0);
		for (let state = 0; state < whole.length; state++) {
			const weight = valueAt(whole, state);
			if (weight === 0) continue;
			const remaining = state & keeps;
			if (remaining === state) {
				this.#stay(next, state, weight * (1 - SLIP), remedy);
				continue;
			}
			this.#stay(next, state, weight * (1 - remedy.success), remedy);
			this.#mended(next, remaining, this.#broken(next, remaining, weight * remedy.success, remedy));
		}
		for (let ownIndex = 1; ownIndex < next.length; ownIndex++) {
			const kept = !remedy.fixes.has(itemAt(this.#own, ownIndex - 1).fault);
			const weights = itemAt(this.#left, ownIndex);
			const to = itemAt(next, ownIndex);
			for (let state = 0; state < weights.length; state++) {
				const weight = valueAt(weights, state);
				if (weight === 0) continue;
				const remaining = state & keeps;
				const addresses = remaining !== state || !kept;
				addAt(to, state, weight * (1 - (addresses ? remedy.success : SLIP)));
				if (!addresses) continue;
				if (kept) addAt(to, remaining, weight * remedy.success);
				else this.#mended(next, remaining, weight * remedy.success);
			}
		}
		[this.#left, this.#spare] = [next, this.#left];
	}

	/** The complaint stays with what is left, and something may have been broken beside. */
	#stay(next: Float64Array[], state: number, weight: number, remedy: Remedy): void {
		const [whole] = next as [Float64Array];
		addAt(whole, state, this.#broken(next, state, weight, remedy));
	}

	/** What was broken beside goes to its own state. @returns the weight with which nothing was */
	#broken(next: Float64Array[], state: number, weight: number, { harm = 0 }: Remedy): number {
		let rest = weight;
		for (let i = 0; i < this.#own.length; i++) {
			const part = weight * harm * itemAt(this.#own, i).chance;
			const to = itemAt(next, i + 1);
			addAt(to, state, part);
			rest -= part;
		}
		return rest;
	}

	/** Without any fault of its own; where nothing at all is left the complaint was taken to stay all the same. */
	#mended([whole]: Float64Array[], state: number, weight: number): void {
		if (state === 0) this.#ended += weight * SLIP;
		else if (whole) addAt(whole, state, weight);
	}

	/** The same where no repair of the shop has broken anything yet: in place, which courses of hundreds of attempts need. */
	#failPlainly(remedy: Remedy): void {
		const weights = itemAt(this.#left, 0);
		const keeps = this.#keptBy(remedy);
		// smaller sets first: what one leaves is a smaller set that this attempt does not address any more
		for (let state = 0; state < weights.length; state++) {
			const weight = valueAt(weights, state);
			const remaining = state & keeps;
			if (remaining === state) {
				weights[state] = weight * (1 - SLIP);
				continue;
			}
			weights[state] = weight * (1 - remedy.success);
			if (remaining === 0) this.#ended += weight * remedy.success * SLIP;
			else addAt(weights, remaining, weight * remedy.success);
		}
	}

	/** The likelihood of everything so far and of an attempt after which the complaint was gone. */
	workedBy(remedy: Remedy): number {
		const keeps = this.#keptBy(remedy);
		const chance = (state: number, ownIndex: number) => {
			const fault = this.#own[ownIndex - 1]?.fault;
			const all = (state & keeps) === 0 && (fault === undefined || remedy.fixes.has(fault));
			return all && (state !== 0 || ownIndex > 0) ? remedy.success * (1 - SLIP) : SLIP;
		};
		return this.#left.reduce(
			(sum, weights, ownIndex) =>
				weights.reduce((sum, weight, state) => sum + weight * chance(state, ownIndex), sum),
			this.#ended
		);
	}

	/** Something was seen of what is left. */
	see(chanceOf: Seen): void {
		this.#left.forEach((weights, ownIndex) =>
			weights.forEach((weight, state) => {
				if (weight > 0) weights[state] = weight * chanceOf(this.#setOf(state, ownIndex));
			})
		);
		if (this.#ended > 0) this.#ended *= chanceOf([]);
	}

	/** What may be left, with chances that sum to 1. */
	now(): Left[] {
		const { total } = this;
		const all = this.#left.flatMap((weights, ownIndex) =>
			[...weights].map((weight, state) => ({
				left: this.#setOf(state, ownIndex),
				chance: (weight + (state === 0 && ownIndex === 0 ? this.#ended : 0)) / total
			}))
		);
		return all.filter(({ chance }) => chance > 0);
	}

	#setOf(state: number, ownIndex: number): FaultSet {
		const set = this.#set.filter((_, k) => state & (1 << k));
		const fault = this.#own[ownIndex - 1]?.fault;
		return fault === undefined ? set : [...set, fault].sort((a, b) => a - b);
	}

	/** The faults of the set that a remedy does not fix, as bits. */
	#keptBy({ fixes }: Remedy): number {
		let keeps = 0;
		for (let k = 0; k < this.#set.length; k++) if (!fixes.has(this.#set[k] as number)) keeps |= 1 << k;
		return keeps;
	}
}
