/** What says who somebody is: names as they were written at one time or another, telephones, mail addresses. */
export interface Who {
	names: readonly string[];
	phones: readonly string[];
	emails: readonly string[];
}

const BLOT = '…';
/** Shorter words of a name, or shorter numbers, are met by chance in what is written of a device. A choice. */
const SHORTEST = { word: 3, digits: 6 } as const;

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
const wholeMatch = (pattern: string, flags: string) =>
	new RegExp(`(?<![\\p{L}\\p{N}])(?:${pattern})(?![\\p{L}\\p{N}])`, flags);

const wordsOf = (names: readonly string[]): string[] =>
	names
		.flatMap((name) => name.split(/[\s,]+/))
		.filter((word) => word.length >= SHORTEST.word && /^\p{Lu}/u.test(word));

function patternsOf({ names, phones, emails }: Who): RegExp[] {
	const whole = [...emails, ...names].filter((text) => text.trim() !== '').map(escaped);
	// a word of the name as names are written, with a capital: other words stay
	const words = wordsOf(names).map(escaped);
	// however it was typed: spaces, strokes and brackets between its digits
	const numbers = phones
		.map((phone) => phone.replace(/\D/g, ''))
		.filter((digits) => digits.length >= SHORTEST.digits)
		.map((digits) => [...digits].join('[\\s()./-]*'));
	return [
		...(whole.length > 0 ? [wholeMatch(whole.join('|'), 'giu')] : []),
		...(words.length > 0 ? [wholeMatch(words.join('|'), 'gu')] : []),
		...(numbers.length > 0 ? [wholeMatch(`\\+?(?:${numbers.join('|')})`, 'gu')] : [])
	];
}

/**
 * A record without what says who somebody is in the words that were written freely: texts of more than one word, or that are nothing but
 * a name, a number or an address. Codes, numbers and keys stay as they are.
 */
export function blotted<Value>(value: Value, customer: Who): Value {
	const patterns = patternsOf(customer);
	const bare = new Set([
		...customer.names,
		...wordsOf(customer.names),
		...customer.phones,
		...customer.emails
	]);
	const walk = (item: unknown): unknown => {
		if (typeof item === 'string') {
			if (bare.has(item)) return BLOT;
			return /\s/.test(item) ? patterns.reduce((text, pattern) => text.replace(pattern, BLOT), item) : item;
		}
		if (Array.isArray(item)) return item.map(walk);
		if (item === null || typeof item !== 'object') return item;
		return Object.fromEntries(Object.entries(item).map(([key, inner]) => [key, walk(inner)]));
	};
	return patterns.length === 0 ? value : (walk(value) as Value);
}
