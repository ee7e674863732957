import { readNumberWithin } from '../units/typed-number';
import type { Shown } from './verdict';

/**
 * A reading as it is typed on the number pad, digits only: "468" is 0.468, "1204" is 1.204, "0" is 0.
 * With a point or comma it stands as written: "0.4" is 0.4.
 * @returns null while nothing sensible stands there
 */
export function parseTypedReading(typed: string): Shown | null {
	const text = typed.trim();
	const value = readNumberWithin(text, 0, 9999);
	if (value === null || !/^\d{1,4}([.,]\d{0,3})?$/.test(text)) return null;
	return { value: /[.,]/.test(text) ? value : value / 1000 };
}

/** Three decimals, as the meter shows them; OL for overload. */
export function formatReading({ value, overload }: { value?: number | null; overload?: boolean }): string {
	if (overload) return 'OL';
	return value == null ? '' : value.toFixed(3);
}
