import type { Catalog } from '$lib/core/catalog/catalog';
import type { KnownKeys } from '$lib/core/exchange/check-references';

/** What a loaded catalog defines, for checking what names it. Tickets are not in it. */
export function knownKeysOf(catalog: Catalog): KnownKeys {
	const kinds: Record<string, ReadonlyMap<string, unknown>> = {
		model: catalog.models,
		sign: catalog.signs,
		test: catalog.tests,
		operation: catalog.operations,
		technician: catalog.technicians,
		fault: catalog.faults,
		part: catalog.parts,
		gate: catalog.gates,
		connector: catalog.connectors
	};
	return {
		has: (kind, key) => kinds[kind]?.has(key) ?? false,
		outcomesOf: (test) => catalog.tests.get(test)?.outcomes ?? null,
		pinsOf: (connector) => catalog.connectors.get(connector)?.pins.map(({ pin }) => pin) ?? null,
		connectorOf: (model) => catalog.models.get(model)?.connector ?? null
	};
}
