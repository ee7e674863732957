import { BENCH_ROLES } from '../units/role';
import { z } from 'zod';
import { soakDrain, type SoakFinding } from '../charging/soak';
import { groupByMinute } from './group-by-minute';
import { stamp } from './entry-fields';
import { measurement } from './measurement';

const shape = { minutes: z.number().min(0).max(100_000), percent: z.number().min(0).max(100) };
const entry = z.strictObject({ ...shape, ...stamp });
type Look = Pick<z.output<typeof entry>, 'minutes' | 'percent'>;

const WORDS = {
	'as-it-should': 'the soak: normal loss',
	'drains-fast': 'the soak: loses too much'
} as const;

/** Per cent of the battery over time, device in use. */
export const SOAK = measurement({
	list: 'soak',
	entry,
	most: 1000,
	step: 'prove',
	verb: 'soak',
	shape,
	roles: BENCH_ROLES,
	says: 'record the soak',
	entries: (look) => [look],
	moment: 'after',
	questions: { 'soak:drain': Object.keys(WORDS) },
	answers(looks, { model, catalog }) {
		const { verdict } = soakDrain(looks, catalog.models.get(model)?.drain?.percent_per_hour ?? null);
		return Object.hasOwn(WORDS, verdict) ? [{ question: 'soak:drain', answer: verdict }] : [];
	},
	words: (_, answer) => WORDS[answer as keyof typeof WORDS] ?? answer,
	trail: (looks) =>
		groupByMinute(looks, 600).map((group) => ({
			kind: 'proved',
			text: `Soak: ${group.map(({ minutes, percent }) => `${percent} % at ${minutes} min`).join(', ')}.`,
			stamp: group[0]
		})),
	late: true
});

/** What the soak says of the check that it proves; null without a look. */
export function soakProves(
	looks: readonly Look[],
	drainPerHour: number | null
): { passed: boolean | null; words: string } | null {
	if (looks.length === 0) return null;
	const verdict: SoakFinding['verdict'] = soakDrain(looks, drainPerHour).verdict;
	if (verdict === 'as-it-should') return { passed: true, words: 'normal loss' };
	if (verdict === 'drains-fast') return { passed: false, words: 'it drains fast' };
	return { passed: null, words: 'no soak result yet' };
}
