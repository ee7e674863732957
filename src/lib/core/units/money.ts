import { z } from 'zod';
import { bothReadings, readCounted } from './typed-number';

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
function hasFractionOfMinor(amount: number): boolean {
	return Math.abs(amount * 100 - Math.round(amount * 100)) > 1e-6;
}

/** Words a text that stands where an amount is wanted; null for what else is wrong. */
export const unreadAmount = ({ input }: { input?: unknown }): string | undefined =>
	typeof input === 'string' ? amountProblem(input) : undefined;

/** A decimal amount at a border: at most two decimals, within what the store can hold. */
export const amountSchema = z
	.number({ error: unreadAmount })
	.min(0)
	.max(99_999_999)
	.refine((amount) => !hasFractionOfMinor(amount), {
		error: (issue) => `has ${String(issue.input)}; money has at most two decimals`
	});

/** The same, or below nothing: a refund, a loss. */
export const signedAmountSchema = z
	.number({ error: unreadAmount })
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
 * Reads what a person types as money: "89", "89.5", "89,50", "1 200", "1.200,50".
 * @param locale of the shop, which decides what "1,200" is; null where none is known
 * @returns hundredths, or null where it is not an amount, or has two readings: `amountProblem` says which.
 */
export function parseAmount(typed: string, locale: string | null): Minor | null {
	const amount = readCounted(typed, locale);
	const isOutside = amount === null || amount < 0 || amount > 99_999_999.99 || hasFractionOfMinor(amount);
	return isOutside ? null : toMinor(amount);
}

/** What is wrong with what was typed as money, and what to write, as the end of a sentence that names the field. */
export function amountProblem(typed: string): string {
	const readings = bothReadings(typed);
	if (!readings)
		return `is “${typed.length > 40 ? `${typed.slice(0, 40)}…` : typed}”; write an amount such as 89.50`;
	const [thousands, decimals] = readings;
	return `is “${typed}”, which can mean ${thousands.toFixed(2)} or ${decimals.toFixed(2)}; write ${thousands} or ${decimals.toFixed(2)}`;
}
