import type { Catalog } from '$lib/core/catalog/catalog';
import type { CatalogRecordOf } from '$lib/core/catalog/kinds';
import { comebackAlarmsInSteps, type Cleared } from '$lib/core/returns/comeback-alarms';
import type { JudgedJobs } from '$lib/core/returns/comeback-rows';
import { comebackEffectsInSteps } from '$lib/core/returns/fair-ratio';
import { followedJobs } from '$lib/core/returns/followed-jobs';
import { monthKeys } from '$lib/core/ledger/months';
import { HOUR_MS, parseInstant, type Instant } from '$lib/core/units/instant';
import { catalogNow } from '../catalog/queries';
import type { Database } from '../database/connection';
import { readCounters } from '../database/counters';
import { shelfStore, type ShelfStore } from '../stock/queries';
import { inTurns, NEVER, type Stop } from '../database/in-turns';
import { returnTickets, type UsingTicket } from './followed';

/** What is known of comebacks at a moment: the jobs, what each factor does, alarms that stand. */
export interface Judged extends JudgedJobs {
	store: ShelfStore;
	tickets: readonly UsingTicket[];
}

/** By state and moment: the same moment is asked about by many rows and screens. */
const kept = new WeakMap<Database, Map<string, Promise<Judged>>>();
const MOST_KEPT = 8;

export async function judgedAt(db: Database, asOf: Instant, stop: Stop = NEVER): Promise<Judged> {
	const counters = await readCounters(db);
	const [catalog, store, { key: state, tickets }] = await Promise.all([
		catalogNow(db, counters.catalog),
		shelfStore(db, counters.shelf),
		returnTickets(db)
	]);
	const key = [state, counters.catalog, counters.shelf, asOf].join(' ');
	const cached = kept.get(db) ?? new Map<string, Promise<Judged>>();
	kept.set(db, cached);
	let judged = cached.get(key);
	if (!judged) {
		judged = judge(tickets, catalog, store, asOf, stop);
		judged.catch(() => cached.delete(key));
		cached.set(key, judged);
		for (const oldest of cached.keys()) if (cached.size > MOST_KEPT) cached.delete(oldest);
	}
	return judged;
}

/** Screens are of the full hour: what is judged is kept for as long. */
export const fullHour = (now: Instant): Instant => Math.floor(now / HOUR_MS) * HOUR_MS;

async function judge(
	all: readonly UsingTicket[],
	catalog: Catalog,
	store: ShelfStore,
	asOf: Instant,
	stop: Stop
): Promise<Judged> {
	const tickets = withOrigins(all, catalog, store);
	const jobs = followedJobs(tickets, asOf, catalog.records.cause);
	const cleared = [...catalog.records['cleared-alarm'].values()].map(clearedFrom);
	const alarms = await inTurns(comebackAlarmsInSteps(jobs, asOf, cleared), stop);
	const effects = await inTurns(comebackEffectsInSteps(jobs), stop);
	return { asOf, catalog, store, tickets, jobs, effects, alarms };
}

const clearedFrom = ({ of: kind, row, at }: CatalogRecordOf<'cleared-alarm'>): Cleared => ({
	of: kind,
	row,
	at: parseInstant(at)
});

/** Tickets with what lots, parts and the calendar say of them: a shelf record may change. */
function withOrigins(all: readonly UsingTicket[], catalog: Catalog, { lots }: ShelfStore): UsingTicket[] {
	const byCode = new Map(lots.map((lot) => [lot.code, lot]));
	const monthOf = monthKeys(catalog.shop.timeZone);
	return all.map((ticket) => {
		const sources = new Set<string>();
		const suppliers = new Set<string>();
		for (const { sku, lot: code } of ticket.used) {
			// of the lot, else of the part
			const lot = code === null ? undefined : byCode.get(code);
			const part = catalog.parts.get(sku);
			const [source, supplier] = [lot?.source ?? part?.source, lot?.supplier ?? part?.supplier];
			if (source) sources.add(source);
			if (supplier) suppliers.add(supplier);
		}
		const month = ticket.closedAt === null ? null : monthOf(ticket.closedAt);
		return { ...ticket, sources: [...sources], suppliers: [...suppliers], month };
	});
}
