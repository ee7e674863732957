/**
 * Reads and sums of numbers by their place, without a cast at each: who reads knows that the place exists, as loops over a length do.
 * One function for each sort of array, so that each compiles to a plain load.
 */

/** The number at a place that exists. */
export const valueAt = (vector: Float64Array, at: number): number => vector[at] as number;

/** The index at a place that exists. */
export const indexAt = (indices: Int32Array, at: number): number => indices[at] as number;

/** The item at a place that exists. */
export const itemAt = <Item>(items: readonly Item[], at: number): Item => items[at] as Item;

/** Adds to the number at a place that exists. */
export function addAt(vector: Float64Array, at: number, amount: number): void {
	vector[at] = (vector[at] as number) + amount;
}
