import { CELL_STATES, CONTACT_STATES, NODE_VERDICTS, PLUG_KINDS, PORT_PLACES } from '../units/seen-codes';

/**
 * The questions that a measurement answers, beside the catalog's own tests: codes that a starting belief may name
 * (`expectation.measured`), each with its possible answers.
 */
const QUESTIONS: Readonly<Record<string, readonly string[]>> = {
	'meter:draw': PLUG_KINDS,
	'meter:sides': ['alike', 'one-only'],
	'meter:hold': ['steady', 'pulsing'],
	'meter:contract': ['base', 'raised'],
	'battery:state': CELL_STATES,
	'look:contacts': CONTACT_STATES,
	...Object.fromEntries(PORT_PLACES.map((place) => [`look:${place}`, CONTACT_STATES]))
};

/** Questions of a kind: one for each net of a port, one for each node of a charging path. */
const FAMILIES: Readonly<Record<string, readonly string[]>> = {
	// judged by its known good where there is any, else a plain value, short or open; mixed: its contacts read apart
	'pins:': ['agrees', 'value', 'short', 'open', 'low', 'high', 'mixed'],
	'path:': NODE_VERDICTS
};

const familyOf = (question: string) => question.slice(0, question.indexOf(':') + 1);

/**
 * Possible answers to a question of a measurement; null where there is no such question.
 * @example measuredAnswers('path:fuse-out') // ['there', 'high', 'low', 'lost']
 */
export function measuredAnswers(question: string): readonly string[] | null {
	if (Object.hasOwn(QUESTIONS, question)) return QUESTIONS[question] as readonly string[];
	const family = familyOf(question);
	return Object.hasOwn(FAMILIES, family) && question.length > family.length
		? (FAMILIES[family] as readonly string[])
		: null;
}

/** All questions as the docs list them. */
export const MEASURED_QUESTIONS: readonly { question: string; answers: readonly string[] }[] = [
	...Object.entries(QUESTIONS).map(([question, answers]) => ({ question, answers })),
	{ question: 'pins:NET', answers: FAMILIES['pins:'] as readonly string[] },
	{ question: 'path:NODE', answers: FAMILIES['path:'] as readonly string[] }
];

/** Of a path's node: whatever several faults do to it, the worst of it shows. */
export const isOfPath = (question: string) => question.startsWith('path:');
