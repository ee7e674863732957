import type { Catalog } from '$lib/core/catalog/catalog';
import type { Step } from '$lib/core/diagnosis/next-step';
import { seesCosts, type Role } from '$lib/core/units/role';
import type { Plan } from '../diagnosis/advice';

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
	/** manager only */
	costMinor?: number;
}

export interface PlanView {
	/** best first, the first four */
	steps: StepView[];
	/** the best test and the best repair to begin with, where there are both: measure first or swap first */
	schools: { measure: StepView; swap: StepView } | null;
	/** steps that the plan looked ahead before it went on by the plain rule */
	ahead: number;
	/** no step is expected to cost less than giving the job up */
	giveUp: boolean;
	/** what giving up loses; manager only */
	giveUpMinor?: number;
}

const SHOWN = 4;
const NEAR_TIE = 1.05;

export function planView({ next, giveUp, lossMinor, ahead }: Plan, catalog: Catalog, role: Role): PlanView {
	const best = next[0]?.expectedCostMinor ?? 0;
	const toView = (step: Step): StepView => ({
		kind: step.kind,
		code: step.code,
		label: step.label,
		minutes: step.expectedMinutes,
		why: step.why,
		caution: step.caution,
		tie: step !== next[0] && step.expectedCostMinor <= best * NEAR_TIE,
		outcomes: step.outcomes.map(({ leads, ...outcome }) => ({
			...outcome,
			leads: leads.map(({ code, ...lead }) => ({ ...lead, label: catalog.faults.get(code)?.label ?? code }))
		})),
		...(seesCosts(role) ? { costMinor: Math.round(step.expectedCostMinor) } : {})
	});
	const measure = next.find(({ kind }) => kind !== 'operation');
	const swap = next.find(({ kind }) => kind === 'operation');
	return {
		steps: next.slice(0, SHOWN).map(toView),
		schools: measure && swap ? { measure: toView(measure), swap: toView(swap) } : null,
		ahead,
		giveUp,
		...(seesCosts(role) ? { giveUpMinor: Math.round(lossMinor) } : {})
	};
}
