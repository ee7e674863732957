import { BENCH_ROLES } from '../units/role';
import { z } from 'zod';
import { PHASE_KINDS, PHASE_WORDS, type PhaseKind } from '../charging/trace-phases';
import { stamp } from './entry-fields';
import { stage, stageField } from './instrument-fields';
import { measurement } from './measurement';

/** What a meter's log showed. The log itself stays with who took it. */
const logged = z.strictObject({
	name: z.string().trim().min(1).max(200),
	rows: z.int().min(0).max(10_000_000),
	rejected: z.int().min(0).max(10_000_000).default(0),
	charge_mah: z.number().min(-1e7).max(1e7),
	energy_mwh: z.number().min(-1e8).max(1e8),
	phases: z
		.array(
			z.strictObject({
				kind: z.enum(PHASE_KINDS),
				from_seconds: z.number(),
				to_seconds: z.number(),
				volts: z.number(),
				amps: z.number()
			})
		)
		.max(500)
});
const entry = z.strictObject({ stage, ...logged.shape, ...stamp });

/** A log of an inline meter, kept as the phases that it shows. */
export const METER_LOG = measurement({
	list: 'traces',
	entry,
	most: 50,
	step: 'plug',
	verb: 'keep-trace',
	shape: { stage: stageField, trace: logged },
	roles: BENCH_ROLES,
	says: 'record a meter log',
	entries: ({ stage, trace }) => [{ stage, ...trace }],
	moment: 'stage',
	questions: { 'log:end': PHASE_KINDS },
	answers(logs) {
		const last = logs.at(-1)?.phases.at(-1);
		return last ? [{ question: 'log:end', answer: last.kind }] : [];
	},
	words: (_, answer) => `meter log ends: ${PHASE_WORDS[answer as PhaseKind] ?? answer}`,
	trail: (logs) =>
		logs.map((log) => {
			const kinds = [...new Set(log.phases.map(({ kind }) => PHASE_WORDS[kind]))];
			return {
				kind: 'measured',
				text: `Meter log ${log.name}: ${kinds.join(', ')}; ${log.charge_mah.toFixed(0)} mAh.`,
				stamp: log
			};
		})
});
