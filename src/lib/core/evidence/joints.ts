import { BENCH_ROLES } from '../units/role';
import { z } from 'zod';
import { JOINT_STATES } from '../units/seen-codes';
import { place, stamp } from './entry-fields';
import { groupByMinute } from './group-by-minute';
import { latestByPlace } from './latest-by-place';
import { JOINTS_QUESTION, jointState, worstJoint, type PushedState } from './joint-state';
import { measurement } from './measurement';

const PUSHED_STATES = [...JOINT_STATES, 'redo'] as const;
const entry = z.strictObject({ place, state: z.enum(PUSHED_STATES), ...stamp });
type Joint = z.output<typeof entry>;

const STATE_WORDS: Readonly<Record<PushedState, string>> = {
	firm: 'firm',
	moves: 'moves',
	cracked: 'cracked',
	dry: 'dry',
	bridged: 'bridged',
	redo: 'to be done again'
};

/** A joint pushed or nudged: a contact or an anchor of the port. */
export const JOINTS = measurement({
	list: 'joints',
	entry,
	most: 2000,
	step: 'prove',
	verb: 'joint',
	shape: { place, state: z.enum(PUSHED_STATES) },
	roles: BENCH_ROLES,
	says: 'record a joint test',
	entries: (joint) => [joint],
	moment: 'after',
	questions: { [JOINTS_QUESTION]: JOINT_STATES },
	answers: (joints) =>
		joints.length === 0
			? []
			: [
					{
						question: JOINTS_QUESTION,
						answer: worstJoint([...latestByPlace(joints).values()].map(jointState))
					}
				],
	words: (_, answer) =>
		answer === 'firm' ? 'joints firm' : `a joint ${answer === 'moves' ? 'moves' : `is ${answer}`}`,
	trail: (joints) =>
		groupByMinute(joints, 30).map((group) => ({ kind: 'proved', text: jointWords(group), stamp: group[0] })),
	late: true
});

function jointWords(group: readonly Joint[]): string {
	const last = latestByPlace(group);
	const odd = [...last].filter(([, state]) => state !== 'firm');
	return odd.length === 0
		? `Joints tested: ${last.size} firm.`
		: `Joints tested: ${odd.map(([place, state]) => `${place} ${STATE_WORDS[state]}`).join(', ')}.`;
}
