import { BENCH_ROLES } from '../units/role';
import { z } from 'zod';
import { judgeSupply, SUPPLY_WORDS, type SupplyVerdict } from '../charging/judge-supply';
import { SUPPLY_VERDICTS } from '../units/seen-codes';
import { stamp } from './entry-fields';
import { measurement } from './measurement';

const amps = z.array(z.number().min(0).max(100)).min(2).max(60);
const shape = {
	volts: z.number().min(0).max(60),
	orientation: z.enum(['a', 'b']).optional(),
	/** in the order of time */
	amps
};
const entry = z.strictObject({ ...shape, ...stamp });

/** What a bench supply showed while the device was started. */
export const SUPPLY = measurement({
	list: 'supply',
	entry,
	most: 100,
	step: 'repair',
	verb: 'supply',
	shape,
	roles: BENCH_ROLES,
	says: 'start it on a bench supply',
	entries: ({ orientation, ...shown }) => [{ ...shown, ...(orientation ? { orientation } : {}) }],
	moment: 'after',
	questions: { 'supply:start': SUPPLY_VERDICTS },
	answers(shown) {
		const last = shown.at(-1);
		return last ? [{ question: 'supply:start', answer: judgeSupply(last.amps) }] : [];
	},
	words: (_, answer) => `bench supply: ${SUPPLY_WORDS[answer as SupplyVerdict] ?? answer}`,
	trail: (shown) =>
		shown.map((look) => ({
			kind: 'measured',
			text: `Bench supply at ${look.volts} V${look.orientation ? `, side ${look.orientation.toUpperCase()}` : ''}: ${SUPPLY_WORDS[judgeSupply(look.amps)]}.`,
			stamp: look
		})),
	late: true
});
