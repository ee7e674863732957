import { knownIn } from '../evidence/known-codes';
import { buildCatalog } from '../catalog/catalog';
import { needsOf, type Known, type NamedKind, type Unmet } from '../catalog/needs';
import type { LineError } from './read-lines';
import { isCatalogLine, recordKind, type LineRecord, type RecordKind } from './record-kinds';

const NOWHERE = 'which neither the shop nor this input defines';

/**
 * Checks that every code that a record names is defined by the store or by any line of the same input,
 * whatever the order of the lines.
 */
export function checkReferences(lines: readonly LineRecord[], stored: Known): LineError[] {
	const inputKeys = withInput(lines, stored);
	const errors: LineError[] = [];
	let line = 0;
	const need = needsOf(inputKeys, NOWHERE, (unmet) => errors.push({ line, ...unmet }));
	for (const each of lines) {
		line = each.line;
		recordKind(each.kind).refers?.(each.record, need);
	}
	return errors;
}

/** The same for one record of a kind. */
export function unmetOf(kind: RecordKind, record: unknown, catalog: Known): Unmet[] {
	const unmet: Unmet[] = [];
	recordKind(kind).refers?.(
		record,
		needsOf(catalog, 'which the catalog does not hold', (one) => unmet.push(one))
	);
	return unmet;
}

function withInput(lines: readonly LineRecord[], stored: Known): Known {
	const input = knownIn(buildCatalog(lines.flatMap((line) => (isCatalogLine(line) ? [line.record] : []))));
	const tickets = new Set(lines.flatMap(({ kind, record }) => (kind === 'ticket' ? [record.number] : [])));
	/** who knows of a record: the input before the store, which it replaces */
	const holder = (kind: NamedKind, key: string) => (input.has(kind, key) ? input : stored);
	return {
		has: (kind, key) =>
			(kind === 'ticket' ? tickets.has(key) : input.has(kind, key)) || stored.has(kind, key),
		outcomesOf: (test) => holder('test', test).outcomesOf(test),
		pinsOf: (connector) => holder('connector', connector).pinsOf(connector),
		connectorOf: (model) => holder('model', model).connectorOf(model),
		nodesOf: (model) => holder('model', model).nodesOf(model),
		pointsOf: (model) => holder('model', model).pointsOf(model),
		answersTo: stored.answersTo,
		questions: stored.questions,
		countNames: () => [...new Set([...input.countNames(), ...stored.countNames()])],
		// a stored one that comes in anew counts as it comes in
		catchAlls: () => [...input.catchAlls(), ...stored.catchAlls().filter((code) => !input.has('fault', code))]
	};
}
