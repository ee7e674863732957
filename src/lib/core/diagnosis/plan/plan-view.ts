import type { Catalog } from '../../catalog/catalog';
import { STEP_CAUTIONS } from './advice-rules';
import type { Step } from './next-step';

/** What to do next, best first. */
export interface Plan {
	next: Step[];
	/** the fault is fixed: what is left is to prove it, or nothing */
	gone: boolean;
	/** steps that were looked at, the first one with them, before going on by the plain rule */
	ahead: number;
}

export interface StepView {
	kind: Step['kind'];
	code: string;
	label: string;
	minutes: number;
	why: string;
	caution: string | null;
	/** near tie with the best: within a twentieth of its cost */
	tie: boolean;
	/** what each outcome would do to the odds */
	outcomes: { answer: string; chance: number; leads: { label: string; before: number; after: number }[] }[];
	/** for who sees costs */
	costMinor?: number;
}

export interface PlanView {
	/** best first, the first four */
	steps: StepView[];
	/** the best test and the best repair to begin with, where there are both: measure first or swap first */
	schools: { measure: StepView; swap: StepView } | null;
	/** steps that the plan looked ahead before it went on by the plain rule */
	ahead: number;
	/** the fault is fixed: what is left is to prove it, or nothing */
	gone: boolean;
}

const SHOWN = 4;
const NEAR_TIE = 1.05;

/**
 * A plan as it is shown: the first steps in words, near ties, and the two schools side by side.
 * @param costs whether the reader sees what steps cost
 */
export function planView(
	{ next, gone: resolved, ahead }: Plan,
	catalog: Pick<Catalog, 'faults'>,
	costs: boolean
): PlanView {
	const best = next[0]?.expectedCostMinor ?? 0;
	const toView = (step: Step): StepView => ({
		kind: step.kind,
		code: step.code,
		label: step.label,
		minutes: step.expectedMinutes,
		why: step.why,
		caution: cautionWords(step),
		tie: step !== next[0] && maybeFirst(step) && step.expectedCostMinor <= best * NEAR_TIE,
		outcomes: step.outcomes.map(({ leads, ...outcome }) => ({
			...outcome,
			leads: leads.map(({ code, ...lead }) => ({ ...lead, label: catalog.faults.get(code)?.label ?? code }))
		})),
		...(costs ? { costMinor: Math.round(step.expectedCostMinor) } : {})
	});
	const measure = next.find(({ kind }) => kind === 'test' || kind === 'measure');
	const swap = next.find(({ kind }) => kind === 'operation');
	return {
		steps: next.slice(0, SHOWN).map(toView),
		schools: measure && swap && maybeFirst(measure) ? { measure: toView(measure), swap: toView(swap) } : null,
		ahead,
		gone: resolved
	};
}

/** Whether a step may be begun with as well as the first: not what must not come before another, whatever it costs. */
const maybeFirst = ({ kind, cautions, heldBack }: Step): boolean =>
	kind !== 'prove' && !heldBack && !cautions.includes('may-short') && !cautions.includes('look-first');

/** What is to be heeded at a step: what holds of any such step, then the catalog's own words. */
function cautionWords({ caution, cautions }: Step): string | null {
	const texts = new Set([
		...cautions.map((code) => STEP_CAUTIONS[code]),
		...(caution === null ? [] : [caution])
	]);
	return texts.size === 0 ? null : [...texts].join(' ');
}
