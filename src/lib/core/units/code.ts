import { z } from 'zod';
import { shownValue } from './sound-value';

export const CODE_PATTERN = /^[a-z0-9][a-z0-9._-]{0,63}$/;

/** The stable key of a catalog record within its kind. */
export const codeSchema = z.string().regex(CODE_PATTERN, {
	error: (issue) =>
		`is ${shownValue(issue.input)}; a code is 1 to 64 of a-z 0-9 . _ - and starts with a letter or digit`
});

/**
 * A record by codes. Zod's own takes no field of the name `constructor`, which is a code like any other.
 * @param value what each code stands for
 * @param key what a code is
 */
export const codeRecord = <Value extends z.ZodType>(value: Value, key: z.ZodType<string> = codeSchema) =>
	z
		.object({})
		.catchall(value)
		.check(({ value: record, issues }) => {
			for (const code of Object.keys(record)) {
				const odd = key.safeParse(code).error?.issues[0];
				if (odd) issues.push({ code: 'custom', path: [code], message: odd.message, input: code });
			}
		})
		.meta(
			key === codeSchema ? { propertyNames: { pattern: CODE_PATTERN.source } } : {}
		) as unknown as z.ZodType<Record<string, z.output<Value>>, Record<string, z.input<Value>>>;

/** What a record holds of a code itself; never what every object has, such as `constructor`. */
export const codeEntry = <Value>(record: Readonly<Record<string, Value>>, code: string): Value | undefined =>
	Object.hasOwn(record, code) ? record[code] : undefined;

/** A ticket's number as shops write them on tags. Case matters. */
const TICKET_NUMBER = /^[A-Za-z0-9][A-Za-z0-9._-]{0,31}$/;
export const isTicketNumber = (text: string): boolean => TICKET_NUMBER.test(text);
export const ticketNumberSchema = z.string().regex(TICKET_NUMBER, {
	error: (issue) => `is ${shownValue(issue.input)}; a ticket number is 1 to 32 letters, digits, . _ or -`
});

/** A code that has no label of its own, as a person reads it: "some-move" -> "some move". */
export const codeWords = (code: string): string => code.replaceAll('-', ' ');

/** A field's name as a person reads it: "priceMinor" -> "price", "taken_at" -> "taken at". */
export const nameWords = (key: string): string =>
	key
		.replace(/Minor$/, '')
		.replace(/([a-z])([A-Z])/g, '$1 $2')
		.replaceAll('_', ' ')
		.toLowerCase();

/** A code made from a person's words: "Pelagic 40" -> "pelagic-40". Empty where nothing is left. */
export function codeFromLabel(label: string): string {
	return label
		.normalize('NFKD')
		.toLowerCase()
		.replace(/[^a-z0-9]+/g, '-')
		.replace(/^-+|-+$/g, '')
		.slice(0, 64);
}

/** The same, made unique with a number: "pelagic-40-2" where that code is taken. */
export function freeCode(label: string, otherwise: string, isTaken: (code: string) => boolean): string {
	const base = codeFromLabel(label) || otherwise;
	let code = base;
	for (let n = 2; isTaken(code); n++) code = `${base.slice(0, 60)}-${n}`;
	return code;
}
