import { dictionary } from '@zxcvbn-ts/language-common';
import { z } from 'zod';

const FEWEST = 12;
/** Passwords that people choose most, from leaks: the list of the package. */
const COMMON: ReadonlySet<string> = new Set(dictionary['passwords-common'] as readonly string[]);

/** A common password, one with something at its ends, or one said several times: the first that is tried. */
function isCommon(password: string): boolean {
	const plain = password.toLowerCase();
	const bare = plain.replace(/^[^a-z]+|[^a-z]+$/g, '');
	const repeated = /^(.{1,12}?)\1+$/.exec(plain)?.[1];
	const runs = 'abcdefghijklmnopqrstuvwxyz 01234567890123456789 qwertyuiopasdfghjklzxcvbnm'.includes(plain);
	return (
		[plain, bare, repeated].some((word) => word !== undefined && COMMON.has(word)) ||
		runs ||
		new Set(plain).size < 4
	);
}

export const passwordSchema = z
	.string()
	.min(FEWEST, `is too short; use at least ${FEWEST} characters, several words are easiest`)
	.max(200, 'is too long; use at most 200 characters')
	.refine((password) => password.length < FEWEST || !isCommon(password), {
		error: 'is one of the commonest, or one with something added; choose several words of your own'
	});
