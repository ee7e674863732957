import { z } from 'zod';
import { readNumberWithin } from './typed-number';

/**
 * Money is a whole number of hundredths of the shop's currency (`priceMinor`), never a float.
 * Hundredths and not the currency's own digits: the exchange format carries two decimals for every
 * currency, and a shop that changes its currency must not have its past rescaled.
 */
export type Minor = number;

/** Decimal amount, as the exchange format writes it, to hundredths. 3.9 -> 390. */
export function toMinor(amount: number): Minor {
	return Math.round(amount * 100);
}

/** Hundredths to a decimal amount; exact to the two decimals that the exchange format allows. */
export function fromMinor(minor: Minor): number {
	return minor / 100;
}

/** True where an amount has more than two decimals, which the exchange format does not carry. */
export function hasFractionOfMinor(amount: number): boolean {
	return Math.abs(amount * 100 - Math.round(amount * 100)) > 1e-6;
}

/** A decimal amount at a border: at most two decimals, within what the store can hold. */
export const amountSchema = z
	.number()
	.min(0)
	.max(99_999_999)
	.refine((amount) => !hasFractionOfMinor(amount), {
		error: (issue) => `has ${String(issue.input)}; money has at most two decimals`
	});

/** The same, or below nothing: a refund, a loss. */
export const signedAmountSchema = z
	.number()
	.min(-99_999_999)
	.max(99_999_999)
	.refine((amount) => !hasFractionOfMinor(amount), {
		error: (issue) => `has ${String(issue.input)}; money has at most two decimals`
	});

/**
 * Tax that a price contains, rounded half up: price · p / (100 + p). Arithmetic.
 * @param percent of the price without tax
 * @example taxIn(12000, 20) // 2000
 */
export const taxIn = (priceMinor: Minor, percent: number): Minor =>
	Math.sign(priceMinor) * Math.round((Math.abs(priceMinor) * percent) / (100 + percent));

/**
 * Reads what a person types as money: "89", "89.5", "89,50", "1 200".
 * @returns hundredths, or null where it is not an amount.
 */
export function parseAmount(typed: string): Minor | null {
	const amount = readNumberWithin(typed, 0, 99_999_999.99);
	return amount === null || hasFractionOfMinor(amount) ? null : toMinor(amount);
}
