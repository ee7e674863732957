import { NOTHING_AMPS } from '../../charging/judge-plug-in';
import { latestByPlace } from '../../evidence/latest-by-place';
import { beforeRepair } from '../../units/stage';
import type { Evidence } from '../learn/evidence';
import type { Step } from './next-step';

/** A check that a repaired device passes, as a plan knows it. */
export interface Proof {
	code: string;
	label: string;
	/** of hands */
	minutes: number;
	/** null: not checked yet */
	passed: boolean | null;
}

/**
 * Whether the fault is fixed: the last attempt made it go, and nothing that came later speaks against it. Later are
 * currents of the stages after a repair; one without a moment counts as later.
 * @param failed a check failed since the last attempt
 * @example complaintGone({ attempts: [{ operation: 'replace-port', resolved: true }], meter: [] }, false) // true
 */
export function complaintGone(
	{ attempts, meter = [], joints = [] }: Pick<Evidence, 'attempts' | 'meter' | 'joints'>,
	failed: boolean
): boolean {
	// a step of a longer repair says nothing of the complaint
	const last = attempts.filter(({ part }) => !part).at(-1);
	if (!last?.resolved || failed) return false;
	// joints that the repair left so speak against it; of each the latest push
	const pushed = latestByPlace(
		joints
			.filter(({ at }) => (at ?? Infinity) >= (last.at ?? 0))
			.map(({ place = '', state = 'firm' }) => ({ place, state }))
	);
	if ([...pushed.values()].some((state) => state !== 'firm')) return false;
	const later = meter.filter(({ stage, at }) => !beforeRepair(stage) && (at ?? Infinity) >= (last.at ?? 0));
	const latest = later.at(-1);
	return latest === undefined || Math.abs(latest.amps) >= NOTHING_AMPS;
}

/**
 * What is left of a job whose complaint is gone: every check that was not passed, in their order; whichever is done first,
 * all of them are to be done.
 * @param hourlyMinor an hour of hands, hundredths
 */
export function proofSteps(proofs: readonly Proof[], hourlyMinor: number): Step[] {
	const open = proofs.filter(({ passed }) => passed !== true);
	const minutes = open.reduce((sum, proof) => sum + proof.minutes, 0);
	return open.map(({ code, label }) => ({
		kind: 'prove',
		code,
		label,
		expectedCostMinor: (minutes / 60) * hourlyMinor,
		expectedMinutes: minutes,
		why: `The fault is fixed: ${open.length === 1 ? 'one check is' : `${open.length} checks are`} left before the customer picks it up.`,
		caution: null,
		cautions: [],
		outcomes: []
	}));
}
