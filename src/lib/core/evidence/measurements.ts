import type { z } from 'zod';
import type { Catalog } from '../catalog/catalog';
import { BATTERY } from './battery';
import { COUNTED } from './counted';
import { JOINTS } from './joints';
import { LOOK } from './look';
import type { Asked, Measurement, Stamped } from './measurement';
import { METER_LOG } from './meter-log';
import { PATH_WALK } from './path-walk';
import { PINS } from './pins';
import { PLUG_IN } from './plug-in';
import { SOAK } from './soak';
import { SUPPLY } from './supply';

/** Everything that is seen and measured of a device, by its list, in the order in which it is usually done. */
export const MEASUREMENTS = {
	inspection: LOOK,
	meter: PLUG_IN,
	battery: BATTERY,
	readings: PINS,
	path: PATH_WALK,
	traces: METER_LOG,
	soak: SOAK,
	joints: JOINTS,
	supply: SUPPLY,
	counts: COUNTED
};
type Registry = typeof MEASUREMENTS;
export type MeasuredList = keyof Registry;
export type MeasuredEntry<List extends MeasuredList> = z.output<Registry[List]['entry']>;

/** Any of them, where only what all have is asked for. */
export type AnyMeasurement = Measurement<string, z.ZodType<Stamped>, string, z.ZodRawShape>;
export const ALL_MEASUREMENTS = Object.values(MEASUREMENTS) as unknown as readonly AnyMeasurement[];

/** The schemas of their entries, by list. */
export const MEASURED_ENTRIES = Object.fromEntries(
	ALL_MEASUREMENTS.map(({ list, entry }) => [list, entry])
) as { [List in MeasuredList]: Registry[List]['entry'] };

const NAMED = /:[A-Z]+$/;
const isFamily = (question: string) => NAMED.test(question);
/** "pins:" of "pins:NET" */
const beginningOf = (question: string) => question.replace(NAMED, ':');

/** All questions that measurements answer, as the docs list them. */
export const MEASURED_QUESTIONS: readonly { question: string; answers: readonly string[] }[] =
	ALL_MEASUREMENTS.flatMap(({ questions }) =>
		Object.entries(questions).map(([question, answers]) => ({ question, answers }))
	);

interface Asking {
	measurement: AnyMeasurement;
	answers: readonly string[];
}
const byQuestion = new Map<string, Asking>();
const byBeginning = new Map<string, Asking>();
for (const measurement of ALL_MEASUREMENTS) {
	for (const [question, answers] of Object.entries(measurement.questions)) {
		if (isFamily(question)) byBeginning.set(beginningOf(question), { measurement, answers });
		else byQuestion.set(question, { measurement, answers });
	}
}

function askingOf(question: string): Asking | null {
	const whole = byQuestion.get(question);
	if (whole) return whole;
	const beginning = question.slice(0, question.indexOf(':') + 1);
	return question.length > beginning.length ? (byBeginning.get(beginning) ?? null) : null;
}

/**
 * Possible answers to a question of a measurement; null where there is no such question.
 * @example measuredAnswers('path:fuse-out') // ['there', 'high', 'low', 'lost']
 */
export const measuredAnswers = (question: string): readonly string[] | null =>
	askingOf(question)?.answers ?? null;

/** An answer of a measurement in words; null where no measurement answers the question. */
export const measuredWords = (
	catalog: Pick<Catalog, 'models'>,
	question: string,
	answer: string
): string | null => askingOf(question)?.measurement.words(question, answer, catalog) ?? null;

/** Of a path's node: whatever several faults do to it, the worst of it shows. */
export const isOfPath = (question: string) => question.startsWith('path:');

/** What a plan may ask for. */
export const MEASURES: readonly Asked[] = ALL_MEASUREMENTS.flatMap(({ asks }) => asks ?? []);
