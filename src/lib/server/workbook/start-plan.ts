import type { Catalog } from '$lib/core/catalog/catalog';
import { MEASURES } from '$lib/core/evidence/measurements';
import { answerWords } from '$lib/core/diagnosis/learn/evidence-words';
import type { StepKind } from '$lib/core/diagnosis/plan/next-step';
import type { PlanTree } from '$lib/core/diagnosis/plan/plan-tree';
import { seesCosts, type Role } from '$lib/core/units/role';
import type { Asker } from '../http/guard';
import { startTree } from '../worker/ask';

export interface TreeView {
	reach: number;
	leads: { label: string; chance: number }[];
	step: { kind: StepKind; label: string; minutes: number; caution: string | null } | null;
	minutes: number;
	/** manager only */
	costMinor?: number;
	branches: { answer: string; chance: number; tree: TreeView }[];
	end: PlanTree['end'];
	order: string[];
}

export interface StartPlan {
	model: string;
	modelLabel: string;
	sign: string;
	signLabel: string;
	learnedFrom: number;
	fromModel: number;
	tree: TreeView;
}

/** The first steps for a model and a complaint, in words; null where the catalog holds either not. */
export async function startPlan(
	catalog: Catalog,
	role: Role,
	model: string,
	sign: string,
	asker: Asker
): Promise<StartPlan | null> {
	const [modelLabel, signLabel] = [catalog.models.get(model)?.label, catalog.signs.get(sign)?.label];
	if (modelLabel === undefined || signLabel === undefined) return null;
	const { tree, ...from } = await startTree(model, { [sign]: true }, asker);
	const operation = (code: string) => catalog.operations.get(code)?.label ?? code;
	const toView = ({ step, leads, branches, order, costMinor, ...rest }: PlanTree): TreeView => {
		const stepInfo = step && stepOf(catalog, step);
		return {
			...rest,
			leads: leads.map(({ code, chance }) => ({ label: catalog.faults.get(code)?.label ?? code, chance })),
			step: step && {
				kind: step.kind,
				minutes: step.minutes,
				label: stepInfo?.label ?? step.code,
				caution: stepInfo?.caution ?? null
			},
			branches: branches.map(({ answer, tree, ...branch }) => ({
				...branch,
				answer: step?.question ? answerWords(catalog, step.question, answer) : answer,
				tree: toView(tree)
			})),
			order: order.map(operation),
			...(seesCosts(role) ? { costMinor: Math.round(costMinor) } : {})
		};
	};
	return { model, modelLabel, sign, signLabel, ...from, tree: toView(tree) };
}

function stepOf(catalog: Catalog, { kind, code }: NonNullable<PlanTree['step']>) {
	if (kind === 'measure') return MEASURES.find((measure) => measure.code === code);
	return (kind === 'test' ? catalog.tests : catalog.operations).get(code);
}
