import { z } from 'zod';
import { shownValue } from './sound-value';

export const CODE_PATTERN = /^[a-z0-9][a-z0-9._-]{0,63}$/;

/** The stable key of a catalog record within its kind. */
export const codeSchema = z
	.string()
	.regex(CODE_PATTERN, {
		error: (issue) =>
			`is ${shownValue(issue.input)}; a code is 1 to 64 of a-z 0-9 . _ - and starts with a letter or digit`
	})
	.refine((code) => code !== 'constructor', {
		error: 'is "constructor", a word that the program keeps for itself; choose another code'
	});

/** A ticket's number as shops write them on tags. Case matters. */
const TICKET_NUMBER = /^[A-Za-z0-9][A-Za-z0-9._-]{0,31}$/;
export const isTicketNumber = (text: string): boolean => TICKET_NUMBER.test(text);
export const ticketNumberSchema = z.string().regex(TICKET_NUMBER, {
	error: (issue) => `is ${shownValue(issue.input)}; a ticket number is 1 to 32 letters, digits, . _ or -`
});

/** A code that has no label of its own, as a person reads it: "some-move" -> "some move". */
export const codeWords = (code: string): string => code.replaceAll('-', ' ');

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
export function freeCode(label: string, otherwise: string, taken: (code: string) => boolean): string {
	const base = codeFromLabel(label) || otherwise;
	let code = base;
	for (let n = 2; taken(code); n++) code = `${base.slice(0, 60)}-${n}`;
	return code;
}
