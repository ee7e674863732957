import { z } from 'zod';
import { VERBS_OF_THE_BENCH } from './verbs/bench';
import { VERBS_OF_CLOSING } from './verbs/closing';
import { VERBS_OF_EVIDENCE } from './verbs/evidence';
import { VERBS_OF_THE_HEAD } from './verbs/head';
import { VERBS_OF_MONEY } from './verbs/money';
import type { State } from './states';
import type { VerbRule } from './verbs/verb';
import { VERBS_OF_WORK } from './verbs/work';

/** Everything that can be done to a ticket: one row a change, read by screens, server, roles page and tests. */
const VERB_TABLE = {
	...VERBS_OF_THE_HEAD,
	...VERBS_OF_EVIDENCE,
	...VERBS_OF_MONEY,
	...VERBS_OF_WORK,
	...VERBS_OF_THE_BENCH,
	...VERBS_OF_CLOSING
};

type Table = typeof VERB_TABLE;
export type Verb = keyof Table;
export const VERBS = Object.keys(VERB_TABLE) as readonly Verb[];

type ShapeOf<Rule> = Rule extends VerbRule<infer Shape> ? Shape : never;
type Row<Name extends Verb> = z.ZodObject<
	{ verb: z.ZodLiteral<Name> } & ShapeOf<Table[Name]>,
	z.core.$strict
>;
type ChangeOf<Name extends Verb> = z.output<Row<Name>>;
export type TicketChange = { [Name in Verb]: ChangeOf<Name> }[Verb];
export type TicketChangeInput = { [Name in Verb]: z.input<Row<Name>> }[Verb];

const bodies = VERBS.map((verb) =>
	z.strictObject({ verb: z.literal(verb), ...(VERB_TABLE[verb].shape as z.ZodRawShape) })
);
/** The body of a change, as a screen sends it. */
export const ticketChangeSchema = z.discriminatedUnion(
	'verb',
	bodies as [(typeof bodies)[number], ...typeof bodies]
) as unknown as z.ZodType<TicketChange, TicketChangeInput>;

/** The row of a change, for any of them. */
export const ruleOf = (verb: Verb): VerbRule<z.ZodRawShape> =>
	VERB_TABLE[verb] as unknown as VerbRule<z.ZodRawShape>;

/** A change that leads on from where a ticket stands, as a button. */
export interface NextMove {
	label: string;
	leads: boolean;
	change: TicketChangeInput;
}

/** The changes that lead on from a state and have no panel of their own: the one that is pressed most comes last. */
export const nextMoves = (state: State): NextMove[] =>
	VERBS.flatMap((verb) => {
		const button = ruleOf(verb).moves?.button ?? [];
		return button === 'of a panel' ? [] : button.map((each) => ({ verb, ...each }));
	})
		.filter(({ states }) => states.includes(state))
		.map(({ verb, label, leads = false, body }) => ({
			label,
			leads,
			change: { verb, ...body } as TicketChangeInput
		}))
		.sort((a, b) => Number(a.leads) - Number(b.leads));
