import type { Catalog } from '../../catalog/catalog';
import { measuredWords } from '../../evidence/measurements';
import { codeWords } from '../../units/code';
import { opinionWords } from './opinions';

/** Before the key of what was seen after repairs that failed. */
export const AFTER = 'after:';
/** Before the key of what the shop itself did on the device before: "earlier:replace-port=resolved". */
export const EARLIER = 'earlier:';
/** The reason by which what is wrong now differs from what was wrong at first. */
export const MENDED = 'mended=maybe';

/** A piece of evidence in the trade's words, from its key as the odds report it ("vbus-fuse=open"). */
export function evidenceWords(catalog: Catalog, key: string): string {
	if (key.startsWith(AFTER)) return `after the repair: ${evidenceWords(catalog, key.slice(AFTER.length))}`;
	if (key === MENDED) return 'what the repairs may have fixed';
	if (key.startsWith(EARLIER)) {
		const operation = key.slice(EARLIER.length, key.lastIndexOf('='));
		const label = catalog.operations.get(operation)?.label ?? operation;
		return key.endsWith('=failed') ? `not fixed by: ${label}` : `came back after: ${label}`;
	}
	const at = key.lastIndexOf('=');
	const [subject, answer] = [key.slice(0, at), key.slice(at + 1)];
	const opinion = opinionWords(catalog, key);
	if (opinion) return opinion;
	const sign = catalog.signs.get(subject);
	if (sign) return answer === 'true' ? sign.label : `not: ${sign.label}`;
	const test = catalog.tests.get(subject);
	if (test) return `${test.label}: ${codeWords(answer)}`;
	const operation = catalog.operations.get(subject.replace(/^tried:/, ''));
	if (operation) {
		return `${operation.label}: ${answer === 'true' ? 'it helped' : 'it did not help'}`;
	}
	return measuredWords(catalog, subject, answer) ?? key;
}

/** An answer in words: of a test its own code, of a measurement what it says. */
export const answerWords = (catalog: Catalog, question: string, answer: string): string =>
	catalog.tests.has(question) ? codeWords(answer) : evidenceWords(catalog, `${question}=${answer}`);
