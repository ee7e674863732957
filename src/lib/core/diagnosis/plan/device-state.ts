import type { Catalog } from '../../catalog/catalog';
import type { TestNeed } from '../../catalog/kinds-of-finding';
import { JOINTS_QUESTION } from '../../evidence/joint-state';
import { MEASURES } from '../../evidence/measurements';
import { pointOf } from '../../units/probed-place';
import { MAY_SHORT } from '../../units/seen-codes';
import { isInside } from './inside';
import type { Answer, Evidence, Features } from '../learn/evidence';

/** How a device lies on the bench, as far as a plan has to know. */
export interface DeviceState {
	/** the port was looked into */
	looked: boolean;
	/** something was repaired, or begun */
	attempted: boolean;
	opened: boolean;
	/** the old port is off and no other is on */
	portOff: boolean;
	/** a plug may short the supply: a contact stands so, or the supply line reads short */
	mayShort: boolean;
	/** something wrong was seen: with the eyes, or by a test whose finding is the fault */
	seenWrong: boolean;
	/** joints were looked at since the last repair that failed */
	jointsSeen: boolean;
	/** the last repair failed, and the catalog believes that its joints are often what is wrong then */
	jointsSuspect: boolean;
	/** operations that are the first part of one which was not done yet, by that one's code */
	begun: ReadonlyMap<string, string>;
	/** the board had as much heat as a board takes in all */
	heatSpent?: boolean;
	/** how many of what was counted last */
	counts: Readonly<Record<string, number>>;
}

/** The line that carries the supply. */
const SUPPLY_NET = 'vbus';
const SUPPLY_QUESTION = `pins:${SUPPLY_NET}`;
const CONTACTS_QUESTION = 'look:contacts';

/** @param evidence with the steps of longer repairs, which features leave out */
export function deviceState(evidence: Evidence, features: Features, catalog: Catalog): DeviceState {
	const { attempts } = evidence;
	const lastWhole = attempts.findLastIndex(({ part }) => !part);
	const begun = new Map<string, string>();
	let portOff = false;
	attempts.slice(lastWhole + 1).forEach(({ operation }) => {
		const { opens = [], part_of: whole } = catalog.operations.get(operation) ?? {};
		if (opens.includes('port-off')) portOff = true;
		if (whole !== undefined) begun.set(whole, operation);
	});
	const afterRepairs = lastWhole >= 0;
	const latest: readonly Answer[] = afterRepairs ? (features.since?.at(-1)?.answers ?? []) : features.answers;
	const answered = [...features.answers, ...(features.since ?? []).flatMap(({ answers }) => answers)];
	return {
		looked: (evidence.inspection ?? []).length > 0,
		attempted: attempts.length > 0,
		opened:
			portOff ||
			attempts.some(({ operation }) => isDoneInside(catalog, operation)) ||
			answered.some(isFromInside(catalog)),
		portOff,
		mayShort: latest.some(
			({ question, answer }) =>
				isShorting(catalog, question, answer) || isShortPoint(catalog, evidence.model, question, answer)
		),
		seenWrong:
			features.signs.some(([sign, present]) => present && catalog.signs.get(sign)?.kind === 'visual') ||
			latest.some(({ question, answer }) => isFinding(catalog, question, answer)),
		jointsSeen: latest.some(({ question }) => asks(catalog, question, JOINTS_QUESTION)),
		jointsSuspect:
			lastWhole >= 0 &&
			!attempts[lastWhole]?.resolved &&
			oftenJoints(catalog, attempts[lastWhole]?.operation ?? ''),
		begun,
		counts: Object.fromEntries((evidence.counts ?? []).map(({ what, number }) => [what ?? '', number]))
	};
}

export const asks = (catalog: Catalog, question: string, wanted: string) =>
	question === wanted || (catalog.tests.get(question)?.repeats?.includes(wanted) ?? false);

function isShorting(catalog: Catalog, question: string, answer: string): boolean {
	if (question === CONTACTS_QUESTION) return (MAY_SHORT as readonly string[]).includes(answer);
	return answer === 'short' && asks(catalog, question, SUPPLY_QUESTION);
}

/** A point of the supply line is at ground. */
function isShortPoint(catalog: Catalog, model: string, question: string, answer: string): boolean {
	const code = answer === 'short' ? pointOf(question) : null;
	const point = catalog.models.get(model)?.points?.find((each) => each.code === code);
	return point?.net?.toLowerCase() === SUPPLY_NET;
}

/** The catalog states of some fault that it is sure to answer so, more often than not. */
const isFinding = (catalog: Catalog, question: string, answer: string) =>
	catalog.expectations.some(
		({ given, test, measured, outcomes, sure }) =>
			sure && given !== undefined && (test ?? measured) === question && (outcomes?.[answer] ?? 0) >= 0.25
	);

/** From this share on joints are looked at first after a repair that failed. A choice. */
const OFTEN = 0.3;
/** Comebacks of an operation are often by a fault under which joints are seldom firm. */
function oftenJoints(catalog: Catalog, operation: string): boolean {
	const shares = catalog.records['comeback-belief'].get(operation)?.faults ?? {};
	return Object.entries(shares).some(
		([fault, share]) =>
			share >= OFTEN &&
			catalog.expectations.some(
				({ given, measured, outcomes }) =>
					given === fault && measured === JOINTS_QUESTION && (outcomes?.firm ?? 1) < 0.5
			)
	);
}

/** Work that takes skill or parts is done inside. */
function isDoneInside(catalog: Catalog, code: string): boolean {
	const operation = catalog.operations.get(code);
	return operation !== undefined && (operation.skill !== undefined || (operation.parts ?? []).length > 0);
}

const isFromInside =
	(catalog: Catalog) =>
	({ question }: Answer): boolean =>
		isInside(needsOf(catalog, question));

/** What must be so before a question is answered. */
const needsOf = (catalog: Catalog, question: string): readonly TestNeed[] =>
	catalog.tests.get(question)?.needs ??
	MEASURES.find((measure) =>
		measure.question.endsWith(':') ? question.startsWith(measure.question) : question === measure.question
	)?.needs ??
	[];
