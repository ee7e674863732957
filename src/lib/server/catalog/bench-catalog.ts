import { PORT_OFF } from '$lib/core/units/stage';
import { operationParts, type Catalog } from '$lib/core/catalog/catalog';

/** What the screen of a ticket of some model needs of the catalog: labels and choices, no cost of anything. */
export function benchCatalog(catalog: Catalog, model: string) {
	return {
		signs: [...catalog.signs.values()].map(({ code, label, kind }) => ({ code, label, kind })),
		tests: [...catalog.tests.values()].map(({ code, label, minutes, outcomes, caution, carries, needs }) => ({
			code,
			label,
			minutes,
			outcomes,
			caution: caution ?? null,
			carries: carries ?? null,
			isWithPortOff: needs?.includes(PORT_OFF) ?? false
		})),
		operations: [...catalog.operations.values()].map((operation) => ({
			code: operation.code,
			label: operation.label,
			minutes: operation.minutes,
			skill: operation.skill ?? null,
			caution: operation.caution ?? null,
			parts: operationParts(catalog, operation.code, model)
		})),
		faults: [...catalog.faults.values()].map(({ code, label, catch_all: isCatchAll = false }) => ({
			code,
			label,
			isCatchAll
		})),
		technicians: [...catalog.technicians.values()].map(({ code, name, skills }) => ({
			code,
			name,
			skills: skills ?? []
		})),
		counted: countedThings(catalog),
		models: [...catalog.models.values()].map(({ code, label }) => ({ code, label })),
		timeZone: catalog.shop.timeZone,
		causes: [...catalog.records.cause.values()].map(({ code, label, charged, claimed }) => ({
			code,
			label,
			charged: charged ?? false,
			claimed: claimed ?? false
		})),
		parts: [...catalog.parts.values()].map(({ sku, label }) => ({ sku, label }))
	};
}

/** What operations depend on, each once, by the first of them. */
function countedThings({ operations }: Catalog) {
	const things = new Map<string, { counted: string; usual: number; operation: string }>();
	for (const { label, per } of operations.values()) {
		if (per && !things.has(per.count))
			things.set(per.count, { counted: per.count, usual: per.usual, operation: label });
	}
	return [...things.values()];
}

export type BenchCatalog = ReturnType<typeof benchCatalog>;
