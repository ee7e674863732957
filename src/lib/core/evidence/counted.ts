import { BENCH_ROLES } from '../units/role';
import { z } from 'zod';
import { codeSchema, codeWords } from '../units/code';
import { stamp } from './entry-fields';
import { measurement } from './measurement';

const shape = { what: codeSchema, number: z.int().min(0).max(1000) };
const entry = z.strictObject({ ...shape, ...stamp });

const CLASSES = ['none', 'few', 'many'] as const;
/** Three or more are many: one or two are mended one by one. Common practice, no source. */
const MANY = 3;
const classOf = (number: number): (typeof CLASSES)[number] =>
	number === 0 ? 'none' : number < MANY ? 'few' : 'many';
const WORDS = { none: 'none', few: 'one or two', many: 'three or more' } as const;

/** How many of something there are: torn pads, wires, contacts. What an operation depends on, and what it says of the faults. */
export const COUNTED = measurement({
	list: 'counts',
	entry,
	most: 200,
	step: 'look',
	verb: 'count',
	shape,
	roles: BENCH_ROLES,
	says: 'record a count',
	refers: ({ what }, need) => need.counted('what', what),
	entries: (counted) => [counted],
	moment: 'before',
	questions: { 'count:NAME': CLASSES },
	/** of each the latest counts */
	answers: (counted) =>
		[...new Map(counted.map(({ what, number }) => [what, number]))].map(([what, number]) => ({
			question: `count:${what}`,
			answer: classOf(number)
		})),
	words: (question, answer) =>
		`${codeWords(question.slice('count:'.length))} counted: ${WORDS[answer as keyof typeof WORDS] ?? answer}`,
	trail: (counted) =>
		counted.map((one) => ({
			kind: 'seen',
			text: `Counted ${one.number} ${codeWords(one.what)}.`,
			stamp: one
		}))
});
