/** Spaces of every width and apostrophes, as they stand between thousands. */
const SPACES = /[\s\u00a0\u202f'’]/g;

/**
 * Reads a measured value as people type it: point or comma is the decimal mark, as on a meter's display; spaces between
 * thousands, a sign in front. Money and pieces are read by `readCounted`.
 * @param typed "5,2", "1 200", "-0.4"
 * @returns null where it is no number; letters, two marks or nothing at all are none
 * @example readNumber('1 200,5') // 1200.5
 */
export function readNumber(typed: string): number | null {
	const plain = typed.replace(SPACES, '').replace(',', '.');
	return /^[+-]?(\d+\.?\d*|\.\d+)$/.test(plain) ? Number(plain) : null;
}

/**
 * The same, within bounds.
 * @example readNumberWithin('70', 0, 60) // null
 */
export function readNumberWithin(typed: string, minimum: number, maximum: number): number | null {
	const value = readNumber(typed);
	return value === null || value < minimum || value > maximum ? null : value;
}

/** One mark with exactly three digits behind it and one to three before: "1,200", "12.500". A leading zero is no thousand. */
const ONE_MARK = /^([+-]?[1-9]\d{0,2})([.,])(\d{3})$/;
/** Thousands that two marks or more set apart, and decimals behind another mark: "1,200,500", "1.200,50". */
const GROUPED = /^([+-]?[1-9]\d{0,2})(?:(?:,(\d{3}))+(?:\.\d+)?|(?:\.(\d{3}))+(?:,\d+)?)$/;

/**
 * The two readings of a number whose one mark may set thousands apart or decimals.
 * @returns thousands first, then decimals; null where there is one reading or none
 * @example bothReadings('1,200') // [1200, 1.2]
 */
export function bothReadings(typed: string): readonly [thousands: number, decimals: number] | null {
	const found = ONE_MARK.exec(typed.replace(SPACES, ''));
	return found ? [Number(`${found[1]}${found[3]}`), Number(`${found[1]}.${found[3]}`)] : null;
}

/** The mark that a locale sets between thousands. */
const groupMark = (locale: string) =>
	new Intl.NumberFormat(locale, { useGrouping: true })
		.formatToParts(12_345_678)
		.find(({ type }) => type === 'group')?.value;

/**
 * Reads an amount of money or a number of pieces as people type it, with thousands set apart in any of the usual ways.
 * @param locale of the shop: where its mark between thousands is the one that was typed, that decides; null where none is known
 * @returns null where it is no number, and where it has two readings (`bothReadings`)
 * @example readCounted('1,200', 'en-GB') // 1200
 * @example readCounted('1,200', 'de-DE') // null: 1200 or 1.2
 */
export function readCounted(typed: string, locale: string | null): number | null {
	const plain = typed.replace(SPACES, '');
	const readings = bothReadings(plain);
	if (readings) {
		const mark = ONE_MARK.exec(plain)?.[2];
		return locale !== null && groupMark(locale) === mark ? readings[0] : null;
	}
	if (!GROUPED.test(plain)) return readNumber(plain);
	const decimal = plain.lastIndexOf('.') > plain.lastIndexOf(',') ? '.' : ',';
	const separator = decimal === '.' ? ',' : '.';
	const several = plain.split(decimal).length > 2;
	return Number(
		several ? plain.replaceAll(decimal, '') : plain.replaceAll(separator, '').replace(decimal, '.')
	);
}
