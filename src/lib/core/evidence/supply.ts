import { BENCH_ROLES } from '../units/role';
import { z } from 'zod';
import { judgeSupply, SUPPLY_WORDS, type SupplyVerdict } from '../charging/judge-supply';
import { formatInstant, instantTextSchema, parseInstant, type Instant } from '../units/instant';
import { SUPPLY_FEEDS, SUPPLY_VERDICTS, type SupplyFeed } from '../units/seen-codes';
import { shownValue } from '../units/sound-value';
import { stamp } from './entry-fields';
import { measurement } from './measurement';

const amps = z.array(z.number().min(0).max(100)).min(2).max(60);
const shape = {
	volts: z.number().min(0).max(60),
	orientation: z.enum(['a', 'b']).optional(),
	/** in the order of time */
	amps
};

const isFeed = (at: string): at is SupplyFeed => (SUPPLY_FEEDS as readonly string[]).includes(at);

const wire = z.strictObject({
	...shape,
	/** the port without */
	fed: z.enum(SUPPLY_FEEDS).optional(),
	/** when it was entered; in a question to the odds where it is fed may stand here as well */
	at: z
		.string()
		.refine((at) => isFeed(at) || instantTextSchema.safeParse(at).success, {
			error: ({ input }) =>
				`is ${shownValue(input)}; write a time with its offset, as 2026-03-02T09:14:00Z, or where it is fed: port or battery`
		})
		.optional(),
	by: stamp.by
});
type Wire = z.output<typeof wire>;
const entry = z.codec(wire, z.custom<Omit<Wire, 'at'> & { at?: Instant }>(), {
	decode: ({ at, ...shown }) => {
		if (at === undefined) return shown;
		return isFeed(at) ? { ...shown, fed: at } : { ...shown, at: parseInstant(at) };
	},
	encode: ({ at, ...shown }): Wire => (at === undefined ? shown : { ...shown, at: formatInstant(at) })
});

/** What a bench supply showed while the device was started. */
export const SUPPLY = measurement({
	list: 'supply',
	entry,
	most: 100,
	step: 'repair',
	verb: 'supply',
	shape: { ...shape, fed: z.enum(SUPPLY_FEEDS).optional() },
	roles: BENCH_ROLES,
	says: 'record a bench supply',
	entries: ({ orientation, fed, ...shown }) => [
		{ ...shown, ...(orientation ? { orientation } : {}), ...(fed ? { fed } : {}) }
	],
	moment: 'after',
	questions: { 'supply:start': SUPPLY_VERDICTS, 'supply:battery': SUPPLY_VERDICTS },
	answers(shown) {
		const lastAt = (fed: SupplyFeed, question: string) => {
			const last = shown.findLast((look) => (look.fed ?? 'port') === fed);
			return last ? [{ question, answer: judgeSupply(last.amps) }] : [];
		};
		return [...lastAt('port', 'supply:start'), ...lastAt('battery', 'supply:battery')];
	},
	words: (question, answer) =>
		`bench supply${question === 'supply:battery' ? ' instead of the battery' : ''}: ${SUPPLY_WORDS[answer as SupplyVerdict] ?? answer}`,
	trail: (shown) =>
		shown.map((look) => ({
			kind: 'measured',
			text: `Bench supply${look.fed === 'battery' ? ' instead of the battery' : ''} at ${look.volts} V${look.orientation ? `, side ${look.orientation.toUpperCase()}` : ''}: ${SUPPLY_WORDS[judgeSupply(look.amps)]}.`,
			stamp: look
		})),
	late: true
});
