import { ROLES } from '../units/role';
import { z } from 'zod';
import { CONTACT_STATES, PORT_PLACES, type ContactState } from '../units/seen-codes';
import { place, stamp } from './entry-fields';
import { groupByMinute } from './group-by-minute';
import { latestByPlace } from './latest-by-place';
import { measurement, type Answer } from './measurement';

const entry = z.strictObject({ place, state: z.enum(CONTACT_STATES), ...stamp });
type Inspected = z.output<typeof entry>;

/** Worse than the state before it, as far as charging goes. A choice. */
const WORSE: readonly ContactState[] = [
	'straight',
	'corroded',
	'bent',
	'touching',
	'folded',
	'burnt',
	'missing'
];

/** A look into the port: its contacts, and the places beside them. */
export const LOOK = measurement({
	list: 'inspection',
	entry,
	most: 1000,
	step: 'look',
	verb: 'look',
	shape: { places: z.array(place).min(1).max(200), state: z.enum(CONTACT_STATES) },
	roles: ROLES,
	says: 'look into the port',
	refers: ({ places }, need, model) =>
		places.forEach((each) => need.place('places', model, each, PORT_PLACES)),
	namesContacts: 'places',
	entries: ({ places, state }) => places.map((each) => ({ place: each, state })),
	moment: 'before',
	questions: {
		'look:contacts': CONTACT_STATES,
		...Object.fromEntries(PORT_PLACES.map((place) => [`look:${place}`, CONTACT_STATES]))
	},
	answers: lookAnswers,
	words(question, answer) {
		const where = question.slice('look:'.length);
		return answer === 'straight' ? `${where} sound` : `${where} ${answer}`;
	},
	asks: { code: 'look', label: 'Look into the port', question: 'look:contacts', minutes: 2, caution: null },
	trail: (seen) =>
		groupByMinute(seen).map((group) => ({
			kind: 'seen',
			text: `Looked into the port: ${lookWords(group)}.`,
			stamp: group[0]
		}))
});

/** The contacts by the worst of them, every other place by itself. A place that was looked at again counts as seen last. */
function lookAnswers(seen: readonly Inspected[]): Answer[] {
	const worst = new Map<string, ContactState>();
	for (const [where, state] of latestByPlace(seen)) {
		const question = (PORT_PLACES as readonly string[]).includes(where) ? `look:${where}` : 'look:contacts';
		const worstState = worst.get(question) ?? 'straight';
		worst.set(question, WORSE.indexOf(state) > WORSE.indexOf(worstState) ? state : worstState);
	}
	return [...worst].map(([question, answer]) => ({ question, answer }));
}

function lookWords(group: readonly Inspected[]): string {
	const last = latestByPlace(group);
	const odd = [...last].filter(([, state]) => state !== 'straight');
	if (odd.length === 0) return `${last.size} places sound`;
	return odd.map(([where, state]) => `${where} ${state}`).join(', ');
}
