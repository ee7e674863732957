import type { Catalog } from '$lib/core/catalog/catalog';
import { recordOfKind, type CatalogRecordOf } from '$lib/core/catalog/kinds';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { warrantyAt, warrantyOf, type WarrantyState } from '$lib/core/tickets/warranty';
import type { Queryable } from '../database/connection';
import { asJson } from '../database/json';
import { findTicket, type EarlierVisit } from './queries';

/** The job that a device comes back from: what it may have come from, and whether it is under warranty. */
export interface FirstJob {
	number: string;
	closedAt: number | null;
	/** as it was when the device came back; null where nothing was fixed */
	warranty: WarrantyState | null;
	operations: { code: string; label: string; technician: string | null }[];
	parts: { sku: string; label: string; lot: string | null }[];
	steps: { procedure: string; version: number; step: number; says: string }[];
}

/** An earlier ticket, and what is said if it comes back from it. */
export interface CounterVisit extends Omit<EarlierVisit, 'ticket'> {
	warranty: { state: WarrantyState['state']; words: string } | null;
	/** who brought it then */
	customer: Ticket['customer'];
	modelLabel: string;
}

type Lots = ReadonlyMap<string, CatalogRecordOf<'lot'>>;

/** Of the lots that some tickets used: their sources. */
export async function lotsOf(db: Queryable, tickets: readonly Pick<Ticket, 'parts'>[]): Promise<Lots> {
	const codes = [...new Set(tickets.flatMap(({ parts }) => parts.flatMap(({ lot }) => lot ?? [])))];
	if (codes.length === 0) return new Map();
	const rows = await db('catalog').where({ kind: 'lot' }).whereIn('code', codes).select('code', 'record');
	return new Map(rows.map(({ code, record }) => [code, recordOfKind('lot', asJson(record))]));
}

/** Whether an earlier job is under warranty at a moment; null where nothing was fixed. */
export function warrantyNow(ticket: Ticket, catalog: Catalog, lots: Lots, at: number): WarrantyState | null {
	const warranty = warrantyOf(ticket, catalog, lots);
	return warranty && warrantyAt(warranty, at);
}

export async function firstJobOf(
	db: Queryable,
	{ comebackOf, openedAt }: Pick<Ticket, 'comebackOf' | 'openedAt'>,
	catalog: Catalog
): Promise<FirstJob | null> {
	const stored = comebackOf === null ? null : await findTicket(db, comebackOf);
	if (!stored) return null;
	const { ticket } = stored;
	const lots = await lotsOf(db, [ticket]);
	const attempts = new Map(ticket.attempts.map((attempt) => [attempt.operation, attempt]));
	const uses = new Map(ticket.parts.map((use) => [`${use.sku} ${use.lot ?? ''}`, use]));
	const steps = new Map(
		ticket.steps
			.filter(({ did: action }) => action === 'done' || action === 'skipped')
			.map((step) => [`${step.procedure} ${step.version} ${step.step}`, step])
	);
	return {
		number: ticket.number,
		closedAt: ticket.closedAt,
		warranty: warrantyNow(ticket, catalog, lots, openedAt),
		operations: [...attempts.values()].map(({ operation, technician }) => ({
			code: operation,
			label: catalog.operations.get(operation)?.label ?? operation,
			technician: technician ?? null
		})),
		parts: [...uses.values()].map(({ sku, lot }) => ({
			sku,
			label: catalog.parts.get(sku)?.label ?? sku,
			lot: lot ?? null
		})),
		steps: [...steps.values()].map(({ procedure, version, step }) => ({
			procedure,
			version,
			step,
			says:
				catalog.records.procedure.get(`${procedure} ${version}`)?.steps[step]?.says ??
				`${procedure}, step ${step + 1}`
		}))
	};
}
