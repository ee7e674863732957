import type { Catalog } from '../../catalog/catalog';
import { CELL_STATE_WORDS } from '../../charging/cell-limits';
import { PLUG_WORDS } from '../../charging/judge-plug-in';
import { NODE_WORDS } from '../../charging/power-path';
import {
	CELL_STATES,
	CONTACT_STATES,
	PLUG_KINDS,
	PORT_PLACES,
	type NodeVerdict
} from '../../units/seen-codes';
import { codeWords } from '../../units/code';
import { opinionWords } from './opinions';

/** Before the key of what was seen after repairs that failed. */
export const AFTER = 'after:';
/** The reason by which what is wrong now differs from what was wrong at first. */
export const MENDED = 'mended=maybe';

/** A piece of evidence in the trade's words, from its key as the odds report it ("vbus-fuse=open"). */
export function evidenceWords(catalog: Catalog, key: string): string {
	if (key.startsWith(AFTER)) return `after the repair: ${evidenceWords(catalog, key.slice(AFTER.length))}`;
	if (key === MENDED) return 'what the repairs may have mended';
	const at = key.lastIndexOf('=');
	const [subject, answer] = [key.slice(0, at), key.slice(at + 1)];
	const said = opinionWords(catalog, key);
	if (said) return said;
	const sign = catalog.signs.get(subject);
	if (sign) return answer === 'true' ? sign.label : `not: ${sign.label}`;
	const test = catalog.tests.get(subject);
	if (test) return `${test.label}: ${codeWords(answer)}`;
	const operation = catalog.operations.get(subject.replace(/^tried:/, ''));
	if (operation) {
		return `${operation.label}: ${answer === 'true' ? 'it helped' : 'it did not help'}`;
	}
	if (subject.startsWith('pins:')) {
		const net = subject.slice(5).toUpperCase();
		if (answer === 'agrees') return `${net} reads as known good`;
		return answer === 'mixed'
			? `contacts of ${net} read apart`
			: `${net} reads ${answer === 'value' ? 'a value' : answer}`;
	}
	if (subject.startsWith('path:')) return nodeWords(catalog, subject.slice(5), answer as NodeVerdict);
	return DERIVED_WORDS[key] ?? key;
}

/** A node by its label on any model's path: shops name a point alike wherever they have it. */
function nodeWords({ models }: Catalog, code: string, verdict: NodeVerdict): string {
	for (const { path = [] } of models.values()) {
		const node = path.find(({ node }) => node === code);
		if (node) return `${node.label}: ${NODE_WORDS[verdict]}`;
	}
	return `${code}: ${NODE_WORDS[verdict]}`;
}

/** An answer in words: of a test its own code, of a measurement what it says. */
export const answerWords = (catalog: Catalog, question: string, answer: string): string =>
	catalog.tests.has(question) ? codeWords(answer) : evidenceWords(catalog, `${question}=${answer}`);

const DERIVED_WORDS: Record<string, string> = {
	...Object.fromEntries(PLUG_KINDS.map((kind) => [`meter:draw=${kind}`, PLUG_WORDS[kind]])),
	...Object.fromEntries(
		CELL_STATES.map((state) => [`battery:state=${state}`, `battery ${CELL_STATE_WORDS[state]}`])
	),
	'meter:sides=alike': 'both sides alike',
	'meter:sides=one-only': 'one side only',
	'meter:hold=steady': 'the current holds',
	'meter:hold=pulsing': 'the current pulses',
	'meter:contract=base': 'stays at base voltage',
	'meter:contract=raised': 'higher voltage agreed',
	...Object.fromEntries(
		[...PORT_PLACES, 'contacts'].flatMap((place) =>
			CONTACT_STATES.map((state) => [
				`look:${place}=${state}`,
				state === 'straight' ? `${place} sound` : `${place} ${state}`
			])
		)
	)
};
