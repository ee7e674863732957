import { ROLES } from '../units/role';
import { z } from 'zod';
import {
	CONTACT_STATES,
	JOINT_STATES,
	PORT_PLACES,
	type ContactState,
	type JointState
} from '../units/seen-codes';
import { place, stamp } from './entry-fields';
import { groupByMinute } from './group-by-minute';
import { latestByPlace } from './latest-by-place';
import { JOINTS_QUESTION, jointState, worstJoint } from './joint-state';
import { measurement, type Answer } from './measurement';

const LOOKED_STATES = [...CONTACT_STATES, ...JOINT_STATES] as const;
const isOfJoint = (state: string) => (JOINT_STATES as readonly string[]).includes(state);
const JOINTS_ALONE = `is a word of joints; a contact or another place is ${CONTACT_STATES.join(', ')}`;
const entry = z
	.strictObject({ place, state: z.enum(LOOKED_STATES), ...stamp })
	.refine((seen) => seen.place === 'joints' || !isOfJoint(seen.state), {
		error: JOINTS_ALONE,
		path: ['state']
	});
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
	shape: { places: z.array(place).min(1).max(200), state: z.enum(LOOKED_STATES) },
	roles: ROLES,
	says: 'record a look into the port',
	refers({ places, state }, need, model) {
		places.forEach((each) => need.place('places', model, each, PORT_PLACES));
		if (isOfJoint(state) && places.some((each) => each !== 'joints'))
			need.refuse('state', `${state} ${JOINTS_ALONE}`);
	},
	namesContacts: 'places',
	entries: ({ places, state }) => places.map((each) => ({ place: each, state })),
	moment: 'before',
	questions: {
		'look:contacts': CONTACT_STATES,
		'look:tongue': CONTACT_STATES,
		'look:shell': CONTACT_STATES
	},
	answers: lookAnswers,
	words(question, answer) {
		const where = question.slice('look:'.length);
		return answer === 'straight' ? `${where} sound` : `${where} ${answer}`;
	},
	asks: {
		code: 'look',
		label: 'Look into the port',
		question: 'look:contacts',
		minutes: 2,
		needs: [],
		caution: null
	},
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
	const joints: JointState[] = [];
	for (const [where, state] of latestByPlace(seen)) {
		if (where === 'joints') {
			joints.push(jointState(state));
			continue;
		}
		if (isOfJoint(state)) continue;
		const question = (PORT_PLACES as readonly string[]).includes(where) ? `look:${where}` : 'look:contacts';
		const worstState = worst.get(question) ?? 'straight';
		const contactState = state as ContactState;
		worst.set(question, WORSE.indexOf(contactState) > WORSE.indexOf(worstState) ? contactState : worstState);
	}
	return [
		...[...worst].map(([question, answer]) => ({ question, answer })),
		...(joints.length > 0 ? [{ question: JOINTS_QUESTION, answer: worstJoint(joints) }] : [])
	];
}

function lookWords(group: readonly Inspected[]): string {
	const last = latestByPlace(group);
	const odd = [...last].filter(([, state]) => state !== 'straight' && state !== 'firm');
	if (odd.length === 0) return `${last.size} places good`;
	return odd.map(([where, state]) => `${where} ${state}`).join(', ');
}
