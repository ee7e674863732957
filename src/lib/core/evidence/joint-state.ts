import { JOINT_STATES, type ContactState, type JointState } from '../units/seen-codes';

/** What the contacts' words say of a joint: tickets from before joints had words of their own stay true. */
const OF_CONTACTS: Readonly<Record<ContactState, JointState>> = {
	straight: 'firm',
	bent: 'moves',
	folded: 'moves',
	touching: 'bridged',
	missing: 'dry',
	burnt: 'cracked',
	corroded: 'cracked'
};

/** Joints are looked at and pushed; both answer this question. */
export const JOINTS_QUESTION = 'look:joints';

/** Beside its states: it is to be done again, whatever it looks like. */
export type PushedState = JointState | 'redo';

export const jointState = (state: ContactState | PushedState): JointState =>
	state === 'redo'
		? 'moves'
		: state in OF_CONTACTS
			? OF_CONTACTS[state as ContactState]
			: (state as JointState);

/** The worst of some joints; `firm` where there are none. */
export const worstJoint = (states: Iterable<JointState>): JointState => {
	let worst = 0;
	for (const state of states) worst = Math.max(worst, JOINT_STATES.indexOf(state));
	return JOINT_STATES[worst] ?? 'firm';
};
