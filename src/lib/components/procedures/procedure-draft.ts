import type { Procedure } from '$lib/core/catalog/catalog';
import type { ProcedureStep, StepKind } from '$lib/core/catalog/kinds-of-bench';
import { readNumber } from '$lib/core/units/typed-number';

/** A step as it is typed: every field a text, empty where nothing is said. */
export interface TypedStep {
	/** of its place in the list while it is edited, never saved */
	id: number;
	kind: StepKind;
	says: string;
	minutes: string;
	celsius: string;
	air: string;
	alloy: string;
	tool: string;
	skill: string;
	station: string;
	protects: string;
	undoes: string;
	gate: string;
	sku: string;
	quantity: string;
	wait: string;
	must: boolean;
}

/** Fields that a kind of step has, beside what it says, its minutes and whether it must be answered. */
export const FIELDS_OF: Record<StepKind, readonly (keyof TypedStep)[]> = {
	hands: ['alloy', 'tool', 'skill', 'station', 'protects', 'undoes'],
	heat: ['celsius', 'air', 'alloy', 'skill', 'station', 'protects', 'undoes'],
	look: ['tool', 'station', 'protects'],
	measure: ['tool', 'station', 'protects'],
	wait: ['wait'],
	gate: ['gate', 'tool'],
	part: ['sku', 'quantity'],
	caution: []
};
const NUMBERS = ['minutes', 'celsius', 'air', 'quantity'] as const;
const TEXTS = ['alloy', 'tool', 'skill', 'station', 'protects', 'gate', 'sku', 'wait'] as const;

let ids = 0;
export const blankStep = (kind: StepKind = 'hands'): TypedStep => ({
	id: ++ids,
	kind,
	says: '',
	minutes: '',
	celsius: '',
	air: '',
	alloy: '',
	tool: '',
	skill: '',
	station: '',
	protects: '',
	undoes: '',
	gate: '',
	sku: '',
	quantity: '',
	wait: '',
	must: kind === 'caution'
});

function typedStep(step: ProcedureStep): TypedStep {
	const typed = { ...blankStep(step.kind), says: step.says, must: step.must ?? false };
	for (const field of [...NUMBERS, ...TEXTS]) {
		const value = step[field];
		if (value !== undefined) typed[field] = String(value);
	}
	typed.undoes = (step.undoes ?? []).join(' ');
	return typed;
}

/** A typed step as the record has it; a text that is no number stays a text, so that it is named. Fields of other kinds are left out. */
export function stepOf(typed: TypedStep): Record<string, unknown> {
	const step: Record<string, unknown> = { kind: typed.kind, says: typed.says };
	const hasField = (field: keyof TypedStep) => field === 'minutes' || FIELDS_OF[typed.kind].includes(field);
	for (const field of NUMBERS) {
		const text = typed[field].trim();
		if (text && hasField(field)) step[field] = readNumber(text) ?? text;
	}
	for (const field of TEXTS) {
		const text = typed[field].trim();
		if (text && hasField(field)) step[field] = text;
	}
	const undoes = typed.undoes.split(/[\s,;]+/).filter(Boolean);
	if (undoes.length > 0 && hasField('undoes')) step.undoes = undoes;
	if (typed.must) step.must = true;
	return step;
}

/** A step moved to another place; the list is left as it is. */
export function moved<Item>(list: readonly Item[], from: number, to: number): Item[] {
	const copy = [...list];
	if (to < 0 || to >= copy.length || from < 0 || from >= copy.length) return copy;
	const [item] = copy.splice(from, 1);
	copy.splice(to, 0, item as Item);
	return copy;
}

export interface TypedProcedure {
	label: string;
	operation: string;
	school: string;
	about: string;
	models: string;
	steps: TypedStep[];
	usual: boolean;
	retired: boolean;
}

export const typedProcedure = (procedure: Procedure | null): TypedProcedure => ({
	label: procedure?.label ?? '',
	operation: procedure?.operation ?? '',
	school: procedure?.school ?? '',
	about: procedure?.about ?? '',
	models: (procedure?.models ?? []).join(' '),
	steps: procedure ? procedure.steps.map(typedStep) : [blankStep()],
	usual: procedure?.usual ?? false,
	retired: procedure?.retired ?? false
});

/** The record without code and version, which the server gives. */
export function procedureOf(typed: TypedProcedure): Record<string, unknown> {
	const text = (name: 'school' | 'about') => (typed[name].trim() ? { [name]: typed[name].trim() } : {});
	const models = typed.models.split(/[\s,;]+/).filter(Boolean);
	return {
		label: typed.label,
		operation: typed.operation,
		...text('school'),
		...text('about'),
		...(models.length > 0 ? { models } : {}),
		steps: typed.steps.map(stepOf),
		...(typed.usual ? { usual: true } : {}),
		...(typed.retired ? { retired: true } : {})
	};
}
