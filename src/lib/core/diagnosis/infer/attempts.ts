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
export type Seen = (left: FaultSet) => number;

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

	constructor(set: FaultSet, own: readonly OwnFault[] = []) {
		this.#set = set;
		this.#own = own.filter(({ fault }) => !set.includes(fault));
		this.#left = [-1, ...this.#own.keys()].map(() => new Float64Array(1 << set.length));
		this.#spare = this.#own.length > 0 ? this.#left.map(({ length }) => new Float64Array(length)) : [];
		(this.#left[0] as Float64Array).fill(1, -1);
	}

	/** The likelihood of everything so far. */
	get total(): number {
		let sum = this.#ended;
		for (const left of this.#left) for (let i = 0; i < left.length; i++) sum += left[i] as number;
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
		const whole = this.#left[0] as Float64Array;
		for (let left = 0; left < whole.length; left++) {
			const weight = whole[left] as number;
			if (weight === 0) continue;
			const after = left & keeps;
			if (after === left) {
				this.#stay(next, left, weight * (1 - SLIP), remedy);
				continue;
			}
			this.#stay(next, left, weight * (1 - remedy.success), remedy);
			this.#mended(next, after, this.#broken(next, after, weight * remedy.success, remedy));
		}
		for (let own = 1; own < next.length; own++) {
			const kept = !remedy.fixes.has((this.#own[own - 1] as OwnFault).fault);
			const weights = this.#left[own] as Float64Array;
			const to = next[own] as Float64Array;
			for (let left = 0; left < weights.length; left++) {
				const weight = weights[left] as number;
				if (weight === 0) continue;
				const after = left & keeps;
				const addresses = after !== left || !kept;
				to[left] = (to[left] as number) + weight * (1 - (addresses ? remedy.success : SLIP));
				if (!addresses) continue;
				if (kept) to[after] = (to[after] as number) + weight * remedy.success;
				else this.#mended(next, after, weight * remedy.success);
			}
		}
		[this.#left, this.#spare] = [next, this.#left];
	}

	/** The complaint stays with what is left, and something may have been broken beside. */
	#stay(next: Float64Array[], left: number, weight: number, remedy: Remedy): void {
		const [whole] = next as [Float64Array];
		whole[left] = (whole[left] as number) + this.#broken(next, left, weight, remedy);
	}

	/** What was broken beside goes to its own state. @returns the weight with which nothing was */
	#broken(next: Float64Array[], left: number, weight: number, { harm = 0 }: Remedy): number {
		let rest = weight;
		for (let i = 0; i < this.#own.length; i++) {
			const part = weight * harm * (this.#own[i] as OwnFault).chance;
			const to = next[i + 1] as Float64Array;
			to[left] = (to[left] as number) + part;
			rest -= part;
		}
		return rest;
	}

	/** Without any fault of its own; where nothing at all is left the complaint was taken to stay all the same. */
	#mended([whole]: Float64Array[], left: number, weight: number): void {
		if (left === 0) this.#ended += weight * SLIP;
		else if (whole) whole[left] = (whole[left] as number) + weight;
	}

	/** The same where no repair of the shop has broken anything yet: in place, which courses of hundreds of attempts need. */
	#failPlainly(remedy: Remedy): void {
		const weights = this.#left[0] as Float64Array;
		const keeps = this.#keptBy(remedy);
		// smaller sets first: what one leaves is a smaller set that this attempt does not address any more
		for (let left = 0; left < weights.length; left++) {
			const weight = weights[left] as number;
			const after = left & keeps;
			if (after === left) {
				weights[left] = weight * (1 - SLIP);
				continue;
			}
			weights[left] = weight * (1 - remedy.success);
			if (after === 0) this.#ended += weight * remedy.success * SLIP;
			else weights[after] = (weights[after] as number) + weight * remedy.success;
		}
	}

	/** The likelihood of everything so far and of an attempt after which the complaint was gone. */
	workedBy(remedy: Remedy): number {
		const keeps = this.#keptBy(remedy);
		const chance = (left: number, own: number) => {
			const fault = this.#own[own - 1]?.fault;
			const all = (left & keeps) === 0 && (fault === undefined || remedy.fixes.has(fault));
			return all && (left !== 0 || own > 0) ? remedy.success * (1 - SLIP) : SLIP;
		};
		return this.#left.reduce(
			(sum, weights, own) => weights.reduce((sum, weight, left) => sum + weight * chance(left, own), sum),
			this.#ended
		);
	}

	/** Something was seen of what is left. */
	see(chanceOf: Seen): void {
		this.#left.forEach((weights, own) =>
			weights.forEach((weight, left) => {
				if (weight > 0) weights[left] = weight * chanceOf(this.#setOf(left, own));
			})
		);
		if (this.#ended > 0) this.#ended *= chanceOf([]);
	}

	/** What may be left, with chances that sum to 1. */
	now(): Left[] {
		const { total } = this;
		const all = this.#left.flatMap((weights, own) =>
			[...weights].map((weight, left) => ({
				left: this.#setOf(left, own),
				chance: (weight + (left === 0 && own === 0 ? this.#ended : 0)) / total
			}))
		);
		return all.filter(({ chance }) => chance > 0);
	}

	#setOf(left: number, own: number): FaultSet {
		const set = this.#set.filter((_, k) => left & (1 << k));
		const fault = this.#own[own - 1]?.fault;
		return fault === undefined ? set : [...set, fault].sort((a, b) => a - b);
	}

	/** The faults of the set that a remedy does not fix, as bits. */
	#keptBy({ fixes }: Remedy): number {
		let keeps = 0;
		for (let k = 0; k < this.#set.length; k++) if (!fixes.has(this.#set[k] as number)) keeps |= 1 << k;
		return keeps;
	}
}
