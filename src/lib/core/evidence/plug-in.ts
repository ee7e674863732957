import { ROLES } from '../units/role';
import { z } from 'zod';
import { batteryOfLook, type Taken } from '../charging/battery-of-look';
import { contractLevel, isRaised } from '../charging/healthy-draw';
import { judgeLooks } from '../charging/judge-looks';
import { amperes, judgePlugIn, plugContext, PLUG_WORDS } from '../charging/judge-plug-in';
import { PLUG_KINDS, type PlugKind } from '../units/seen-codes';
import { stamp } from './entry-fields';
import { groupByMinute } from './group-by-minute';
import { instrument, instrumentName, stage, stageField } from './instrument-fields';
import { measurement, type Answer, type Seen } from './measurement';

const entry = z.strictObject({
	stage,
	orientation: z.enum(['a', 'b']).optional(),
	volts: z.number().min(-1000).max(1000),
	amps: z.number().min(-100).max(100),
	seconds: z.number().min(0).max(1_000_000).optional(),
	/** the device was switched on */
	on: z.boolean().optional(),
	/** volts that supply and device agreed on, as the meter shows it */
	contract: z.number().min(0).max(60).optional(),
	...instrument,
	...stamp
});
type Look = z.output<typeof entry>;

const contextOf = ({ catalog, model, battery }: Seen, look: Taken) =>
	plugContext(catalog, model, batteryOfLook(battery, look));

const WORDS: Readonly<Record<string, string>> = {
	'meter:sides=alike': 'both sides alike',
	'meter:sides=one-only': 'one side only',
	'meter:hold=steady': 'the current holds',
	'meter:hold=pulsing': 'the current pulses',
	'meter:contract=base': 'stays at base voltage',
	'meter:contract=raised': 'higher voltage agreed'
};

/** A look at an inline meter between supply and device. */
export const PLUG_IN = measurement({
	list: 'meter',
	entry,
	most: 1000,
	step: 'plug',
	verb: 'plug-in',
	shape: {
		stage: stageField,
		orientation: z.enum(['a', 'b']),
		volts: z.number().min(0).max(60),
		amps: z.number().min(0).max(20),
		seconds: z.number().min(0).max(1_000_000).optional(),
		on: z.boolean().optional(),
		contract: z.number().min(0).max(60).optional(),
		meter: instrumentName.optional()
	},
	roles: ROLES,
	says: 'record a current',
	entries: (look) => [look],
	moment: 'stage',
	questions: {
		'meter:draw': PLUG_KINDS,
		'meter:sides': ['alike', 'one-only'],
		'meter:hold': ['steady', 'pulsing'],
		'meter:contract': ['base', 'raised']
	},
	answers: plugInAnswers,
	words: (question, answer) =>
		question === 'meter:draw'
			? (PLUG_WORDS[answer as PlugKind] ?? answer)
			: (WORDS[`${question}=${answer}`] ?? answer),
	asks: {
		code: 'plug-in',
		label: 'Plug in the meter',
		question: 'meter:draw',
		minutes: 3,
		needs: ['plugged'],
		caution: 'Look into the port before anything is plugged in.'
	},
	trail: (looks, seen) =>
		groupByMinute(looks).map((group) => ({
			kind: 'measured',
			text: `Plugged in: ${group.map((look) => lookWords(look, seen)).join('; ')}.`,
			stamp: group[0]
		}))
});

/** The strongest draw as it is judged with model, battery and contract; whether the sides agree; whether it holds. */
function plugInAnswers(looks: readonly Look[], seen: Seen): Answer[] {
	const [first] = looks;
	if (!first) return [];
	const strongest = looks.reduce(
		(largest, look) => (Math.abs(look.amps) > Math.abs(largest.amps) ? look : largest),
		first
	);
	const together = judgeLooks(looks, (look) => contextOf(seen, look)).map(({ kind }) => kind);
	const profile = contextOf(seen, strongest);
	const answers: Answer[] = [{ question: 'meter:draw', answer: judgePlugIn(strongest, profile).kind }];
	const sideLooks = (side: 'a' | 'b') => looks.filter(({ orientation }) => orientation === side).length;
	if (sideLooks('a') > 0 && sideLooks('b') > 0) {
		answers.push({ question: 'meter:sides', answer: together.includes('one-side') ? 'one-only' : 'alike' });
	}
	if (Math.max(sideLooks('a'), sideLooks('b')) >= 3) {
		answers.push({ question: 'meter:hold', answer: together.includes('pulsing') ? 'pulsing' : 'steady' });
	}
	if (!profile.fixed) {
		const raised = looks.some((look) => isRaised(contractLevel(look, profile), profile));
		answers.push({ question: 'meter:contract', answer: raised ? 'raised' : 'base' });
	}
	return answers;
}

function lookWords(look: Look, seen: Seen): string {
	const { orientation, volts, amps } = look;
	const side = orientation ? `side ${orientation.toUpperCase()} ` : '';
	const { kind } = judgePlugIn(look, contextOf(seen, look));
	return `${side}${volts.toFixed(2)} V ${amperes(amps)}, ${PLUG_WORDS[kind]}`;
}
