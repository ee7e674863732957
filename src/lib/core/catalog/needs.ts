import { pointOf } from '../units/probed-place';
import { shownValue } from '../units/sound-value';

/** Kinds of records that others name by their key. A kind that stands nowhere here cannot be asked for. */
export type NamedKind =
	| 'cause'
	| 'connector'
	| 'fault'
	| 'gate'
	| 'lot'
	| 'model'
	| 'operation'
	| 'part'
	| 'procedure'
	| 'sign'
	| 'station'
	| 'supplier'
	| 'technician'
	| 'test'
	| 'ticket';

/** What stands in a catalog, for checking what names it: `has('fault', 'port-contacts')`. */
export interface Known {
	has(kind: NamedKind, key: string): boolean;
	/** Outcomes of a test, contacts of a connector, connector and path of a model; null where not known. */
	outcomesOf(test: string): readonly string[] | null;
	pinsOf(connector: string): readonly string[] | null;
	connectorOf(model: string): string | null;
	nodesOf(model: string): readonly string[] | null;
	/** points of a model's board; null where the model is not known */
	pointsOf(model: string): readonly string[] | null;
	/** answers to a question of a measurement; null where none answers it */
	answersTo(question: string): readonly string[] | null;
	/** all such questions, as the docs list them */
	questions: readonly string[];
	/** what operations depend on by its number: pads, wires */
	countNames(): readonly string[];
	/** faults that stand for whatever has no code */
	catchAlls(): readonly string[];
}

/** A field that names what is not there. */
export interface Unmet {
	path: string;
	message: string;
}

/** The one list of rules for what a record or a change may name; forms, screens and imports ask the same. */
export interface Needs {
	/** a code of a kind; nothing where the field is left out */
	code(path: string, kind: NamedKind, key: string | null | undefined): void;
	/** an outcome of a test */
	outcome(path: string, test: string, outcome: string): void;
	/** a contact of a model's port, a point of its board, or one of the places besides */
	place(path: string, model: string, place: string, besides?: readonly string[]): void;
	/** a node of a model's charging path */
	node(path: string, model: string, node: string): void;
	/** a question of a measurement, and its answers */
	measured(question: string, answers: readonly string[]): void;
	/** a test's code other than its own, or a question of a measurement */
	question(path: string, question: string, own: string): void;
	/** something that an operation depends on by its number */
	counted(path: string, what: string): void;
	/** a rule of a kind's own that is not met */
	refuse(path: string, message: string): void;
	/** no other fault stands for whatever has no code */
	onlyCatchAll(code: string): void;
}

/**
 * @param catalog what the shop holds, and what comes in beside it
 * @param nowhere how to say that a code is not there, as in "names the fault "x", NOWHERE"
 * @param report is told of every rule that is not met
 */
export function needsOf(catalog: Known, nowhere: string, report: (unmet: Unmet) => void): Needs {
	return {
		code(path, kind, key) {
			if (key == null || catalog.has(kind, key)) return;
			report({ path, message: `names the ${kind} ${shownValue(key)}, ${nowhere}` });
		},
		outcome(path, test, outcome) {
			const outcomes = catalog.outcomesOf(test);
			if (!outcomes || outcomes.includes(outcome)) return;
			report({
				path,
				message: `is ${shownValue(outcome)}; test ${test} has the outcomes ${outcomes.join(', ')}`
			});
		},
		place(path, model, place, besides = []) {
			const point = pointOf(place);
			if (point !== null) {
				if (catalog.pointsOf(model)?.includes(point) !== false) return;
				report({ path, message: `is ${shownValue(point)}; the board of ${model} has no such point` });
				return;
			}
			const connector = catalog.connectorOf(model);
			const pins = connector === null ? null : catalog.pinsOf(connector);
			if (!pins || pins.includes(place) || besides.includes(place)) return;
			report({
				path,
				message: `is ${shownValue(place)}; connector ${connector} of model ${model} has no such contact`
			});
		},
		node(path, model, node) {
			const nodes = catalog.nodesOf(model);
			if (!nodes || nodes.includes(node)) return;
			report({ path, message: `is ${shownValue(node)}; the path of ${model} has no such node` });
		},
		question(path, question, own) {
			if (question !== own && (catalog.has('test', question) || catalog.answersTo(question))) return;
			const reason =
				question === own
					? 'is the test itself'
					: `is neither a test nor a question of a measurement, ${nowhere}`;
			report({ path, message: `${shownValue(question)} ${reason}` });
		},
		counted(path, what) {
			const names = catalog.countNames();
			if (names.includes(what)) return;
			const knownNames = [...names].sort().join(', ') || 'none';
			report({ path, message: `is ${what}, which no operation depends on; those there are: ${knownNames}` });
		},
		refuse: (path, message) => report({ path, message }),
		onlyCatchAll(code) {
			const otherCatchAll = catalog.catchAlls().find((each) => each !== code);
			if (otherCatchAll === undefined) return;
			report({
				path: 'catch_all',
				message: `is set of ${shownValue(otherCatchAll)} already; only one fault stands for all others`
			});
		},
		measured(question, answers) {
			const possible = catalog.answersTo(question);
			if (!possible) {
				const message = `is ${shownValue(question)}; a measurement answers ${catalog.questions.join(', ')}`;
				report({ path: 'measured', message });
				return;
			}
			for (const answer of answers.filter((answer) => !possible.includes(answer))) {
				const message = `is no answer to ${question}; its answers are ${possible.join(', ')}`;
				report({ path: `outcomes.${answer}`, message });
			}
		}
	};
}
