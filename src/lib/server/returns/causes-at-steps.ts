import { causeCounts } from '$lib/core/comebacks/what-counts';
import type { Catalog } from '$lib/core/catalog/catalog';
import type { Database } from '../database/connection';
import { returnTickets } from './followed';

/** Why jobs of an operation came back, and what of it happened at which step of its procedures. */
export interface CausesOfOperation {
	/** comebacks of the operation whose cause was found */
	comebacks: number;
	causes: { label: string; comebacks: number }[];
	/** by procedure and step: "port-hot-air 11" */
	steps: Record<string, { label: string; comebacks: number }[]>;
}

/** What the next one at the bench should know: "A joint did not hold: 4 of 9 comebacks of this operation". */
export async function causesOfOperation(
	db: Database,
	operation: string,
	catalog: Pick<Catalog, 'records'>
): Promise<CausesOfOperation> {
	const { tickets } = await returnTickets(db);
	const did = new Set(
		tickets.filter(({ operations }) => operations.includes(operation)).map(({ number }) => number)
	);
	const all = new Map<string, number>();
	const steps = new Map<string, Map<string, number>>();
	let comebacks = 0;
	for (const { comebackOf, cause, cameFrom } of tickets) {
		if (comebackOf === null || cause === null || !did.has(comebackOf)) continue;
		if (cameFrom?.operation !== undefined && cameFrom.operation !== operation) continue;
		if (!causeCounts(cause, catalog.records.cause)) continue;
		comebacks += 1;
		all.set(cause, (all.get(cause) ?? 0) + 1);
		if (!cameFrom?.step) continue;
		const key = `${cameFrom.step.procedure} ${cameFrom.step.step}`;
		const at = steps.get(key) ?? new Map<string, number>();
		at.set(cause, (at.get(cause) ?? 0) + 1);
		steps.set(key, at);
	}
	const listed = (counts: ReadonlyMap<string, number>) =>
		[...counts]
			.map(([cause, comebacks]) => ({ label: catalog.records.cause.get(cause)?.label ?? cause, comebacks }))
			.sort((a, b) => b.comebacks - a.comebacks || (a.label < b.label ? -1 : 1));
	return {
		comebacks,
		causes: listed(all),
		steps: Object.fromEntries([...steps].map(([key, counts]) => [key, listed(counts)]))
	};
}
