import { operationParts, type Catalog } from '../catalog/catalog';

/** An open job whose price was accepted, as far as its parts go. */
export interface AcceptedJob {
	/** operations that were agreed; without, those that the confirmed faults need */
	operations: readonly string[];
	model?: string | undefined;
	faults: readonly string[];
	parts: readonly { sku: string; quantity: number }[];
}

/**
 * Pieces that accepted jobs still need: the parts of the operations that were agreed, less what was used. Where none was agreed by
 * name, the first operation of the catalog that mends each confirmed fault.
 */
export function reservedOf(
	jobs: readonly AcceptedJob[],
	catalog: Pick<Catalog, 'operations' | 'parts'>
): Map<string, number> {
	const reserved = new Map<string, number>();
	for (const job of jobs) {
		const needed = new Map<string, number>();
		for (const code of operationsOf(job, catalog)) {
			for (const { sku, quantity } of operationParts(catalog, code, job.model))
				if (!catalog.parts.get(sku)?.consumable) needed.set(sku, (needed.get(sku) ?? 0) + quantity);
		}
		for (const { sku, quantity } of job.parts) {
			// another part may have been fitted in its place
			const candidates = needed.has(sku) ? [sku] : (catalog.parts.get(sku)?.stands_for ?? []);
			const candidate = candidates.find((code) => needed.has(code));
			if (candidate !== undefined) needed.set(candidate, (needed.get(candidate) as number) - quantity);
		}
		for (const [sku, quantity] of needed)
			if (quantity > 0) reserved.set(sku, (reserved.get(sku) ?? 0) + quantity);
	}
	return reserved;
}

function operationsOf({ operations, faults }: AcceptedJob, catalog: Pick<Catalog, 'operations'>): string[] {
	if (operations.length > 0) return [...operations];
	const found: string[] = [];
	for (const fault of faults) {
		const fixing = [...catalog.operations.values()].filter(({ fixes }) => fixes.includes(fault));
		if (fixing.some(({ code }) => found.includes(code))) continue;
		if (fixing[0]) found.push(fixing[0].code);
	}
	return found;
}
