import { catalogKey } from '../catalog/records';
import type { LineError, LineRecord } from './read-lines';

/** What already stands in the store, by kind: `has('fault', 'port-contacts')`. */
export interface KnownKeys {
	has(kind: string, key: string): boolean;
	/** Outcomes of a test, contacts of a connector, connector of a model; null where not known. */
	outcomesOf(test: string): readonly string[] | null;
	pinsOf(connector: string): readonly string[] | null;
	connectorOf(model: string): string | null;
}

/**
 * Checks that every code that a record names is defined by the store or by any line of the same input,
 * whatever the order of the lines.
 */
export function checkReferences(records: readonly LineRecord[], stored: KnownKeys): LineError[] {
	const known = withInput(records, stored);
	const errors: LineError[] = [];
	for (const { line, record } of records) {
		const need = (path: string, kind: string, key: string | null | undefined) => {
			if (key == null || known.has(kind, key)) return;
			errors.push({
				line,
				path,
				message: `names the ${kind} ${JSON.stringify(key)}, which neither the shop nor this input defines`
			});
		};
		const needOutcome = (path: string, test: string, outcome: string) => {
			const outcomes = known.outcomesOf(test);
			if (!outcomes || outcomes.includes(outcome)) return;
			errors.push({
				line,
				path,
				message: `is ${JSON.stringify(outcome)}; test ${test} has the outcomes ${outcomes.join(', ')}`
			});
		};
		const needPin = (path: string, model: string, pin: string) => {
			const connector = known.connectorOf(model);
			const pins = connector === null ? null : known.pinsOf(connector);
			if (!pins || pins.includes(pin)) return;
			errors.push({
				line,
				path,
				message: `is ${JSON.stringify(pin)}; connector ${connector} of model ${model} has no such contact`
			});
		};
		switch (record.record) {
			case 'operation':
				record.fixes.forEach((fault, i) => need(`fixes.${i}`, 'fault', fault));
				record.parts?.forEach(({ sku }, i) => need(`parts.${i}.sku`, 'part', sku));
				break;
			case 'expectation':
				need('given', 'fault', record.given);
				need('sign', 'sign', record.sign);
				need('test', 'test', record.test);
				for (const outcome of Object.keys(record.outcomes ?? {})) {
					needOutcome(`outcomes.${outcome}`, record.test ?? '', outcome);
				}
				break;
			case 'model':
				need('connector', 'connector', record.connector);
				break;
			case 'reference':
				need('model', 'model', record.model);
				needPin('pin', record.model, record.pin);
				break;
			case 'ticket':
				need('model', 'model', record.model);
				for (const sign of Object.keys(record.signs)) need(`signs.${sign}`, 'sign', sign);
				record.opinions.forEach(({ fault }, i) => need(`opinions.${i}.fault`, 'fault', fault));
				record.observations.forEach(({ test, outcome }, i) => {
					need(`observations.${i}.test`, 'test', test);
					needOutcome(`observations.${i}.outcome`, test, outcome);
				});
				record.readings.forEach(({ pin }, i) => needPin(`readings.${i}.pin`, record.model, pin));
				record.attempts.forEach(({ operation, technician }, i) => {
					need(`attempts.${i}.operation`, 'operation', operation);
					need(`attempts.${i}.technician`, 'technician', technician);
				});
				record.running.forEach(({ operation, technician }, i) => {
					need(`running.${i}.operation`, 'operation', operation);
					need(`running.${i}.technician`, 'technician', technician);
				});
				record.faults?.forEach((fault, i) => need(`faults.${i}`, 'fault', fault));
				record.own_faults?.forEach((fault, i) => need(`own_faults.${i}`, 'fault', fault));
				record.parts.forEach(({ sku }, i) => need(`parts.${i}.sku`, 'part', sku));
				record.gates.forEach(({ gate }, i) => need(`gates.${i}.gate`, 'gate', gate));
				need('assigned_to', 'technician', record.assigned_to);
				need('comeback_of', 'ticket', record.comeback_of);
				break;
		}
	}
	return errors;
}

function withInput(records: readonly LineRecord[], stored: KnownKeys): KnownKeys {
	const keys = new Set<string>();
	const outcomes = new Map<string, readonly string[]>();
	const pins = new Map<string, readonly string[]>();
	const connectors = new Map<string, string | null>();
	for (const { record } of records) {
		if (record.record === 'ticket') keys.add(`ticket ${record.number}`);
		else if (record.record !== 'reference') keys.add(`${record.record} ${catalogKey(record)}`);
		if (record.record === 'test') outcomes.set(record.code, record.outcomes);
		if (record.record === 'connector')
			pins.set(
				record.code,
				record.pins.map(({ pin }) => pin)
			);
		if (record.record === 'model') connectors.set(record.code, record.connector ?? null);
	}
	return {
		has: (kind, key) => keys.has(`${kind} ${key}`) || stored.has(kind, key),
		outcomesOf: (test) => outcomes.get(test) ?? stored.outcomesOf(test),
		pinsOf: (connector) => pins.get(connector) ?? stored.pinsOf(connector),
		connectorOf: (model) =>
			connectors.has(model) ? (connectors.get(model) ?? null) : stored.connectorOf(model)
	};
}
