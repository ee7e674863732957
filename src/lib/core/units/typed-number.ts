/**
 * Reads a number as people type it: point or comma, spaces between thousands, a sign in front.
 * @param typed "5,2", "1 200", "-0.4"
 * @returns null where it is no number; letters, two marks or nothing at all are none
 * @example readNumber('1 200,5') // 1200.5
 */
export function readNumber(typed: string): number | null {
	const plain = typed.replace(/[\s\u00a0\u202f']/g, '').replace(',', '.');
	return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : null;
}

/**
 * The same, within bounds.
 * @example readNumberWithin('70', 0, 60) // null
 */
export function readNumberWithin(typed: string, least: number, most: number): number | null {
	const value = readNumber(typed);
	return value === null || value < least || value > most ? null : value;
}
