import { BENCH_ROLES } from '../units/role';
import { z } from 'zod';
import { place, stamp } from './entry-fields';
import { groupByMinute } from './group-by-minute';
import { latestByPlace } from './latest-by-place';
import { measurement } from './measurement';

export const JOINT_STATES = ['firm', 'moves', 'redo'] as const;
const entry = z.strictObject({ place, state: z.enum(JOINT_STATES), ...stamp });
type Joint = z.output<typeof entry>;

const STATE_WORDS = { firm: 'firm', moves: 'moves', redo: 'to be done again' };

/** A joint pushed or nudged: a contact or an anchor of the port. */
export const JOINTS = measurement({
	list: 'joints',
	entry,
	most: 2000,
	step: 'prove',
	verb: 'joint',
	shape: { place, state: z.enum(JOINT_STATES) },
	roles: BENCH_ROLES,
	says: 'push the joints',
	entries: (joint) => [joint],
	moment: 'after',
	questions: { 'joints:push': ['all-firm', 'some-move'] },
	answers(joints) {
		if (joints.length === 0) return [];
		const firm = [...latestByPlace(joints).values()].every((state) => state === 'firm');
		return [{ question: 'joints:push', answer: firm ? 'all-firm' : 'some-move' }];
	},
	words: (_, answer) => (answer === 'all-firm' ? 'joints pushed: all firm' : 'joints pushed: some move'),
	trail: (joints) =>
		groupByMinute(joints, 30).map((group) => ({ kind: 'proved', text: jointWords(group), stamp: group[0] })),
	late: true
});

function jointWords(group: readonly Joint[]): string {
	const last = latestByPlace(group);
	const odd = [...last].filter(([, state]) => state !== 'firm');
	return odd.length === 0
		? `Joints pushed: ${last.size} firm.`
		: `Joints pushed: ${odd.map(([place, state]) => `${place} ${STATE_WORDS[state]}`).join(', ')}.`;
}
