import { gateStates, type GateState } from '$lib/core/bench/gates';
import { planView, type PlanView } from '$lib/core/diagnosis/plan/plan-view';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import { ticketTrail, type TrailEntry } from '$lib/core/tickets/trail';
import { seesCosts, type Role } from '$lib/core/units/role';
import type { Database } from '../database/connection';
import { adviseSteps } from '../diagnosis/advice';
import { fittedMemory, shopCatalog } from '../memory/shop-memory';
import { oddsView, type OddsView } from '$lib/core/diagnosis/infer/odds-view';
import { findTicket } from './queries';
import { withoutCosts } from './without-costs';

export const SHEETS = ['sheet', 'receipt', 'label', 'quote'] as const;
type Sheet = (typeof SHEETS)[number];

/** What a ticket's papers show, for one role. */
interface PaperView {
	ticket: Ticket;
	modelLabel: string;
	/** likely work; the job sheet and the quote name it, nothing else waits for it */
	advice: { odds: OddsView; plan: PlanView } | null;
	/** of the job sheet alone */
	bench: { trail: TrailEntry[]; gates: GateState[] } | null;
}

/** A label and a receipt say what is known of the ticket: the engine is not asked for them. */
export async function paperView(
	db: Database,
	number: string,
	role: Role,
	sheet: Sheet
): Promise<PaperView | null> {
	const [stored, catalog] = await Promise.all([findTicket(db, number), shopCatalog(db)]);
	if (!stored) return null;
	const { ticket } = stored;
	return {
		ticket: withoutCosts(ticket, role),
		modelLabel: catalog.models.get(ticket.model)?.label ?? ticket.model,
		advice: sheet === 'sheet' || sheet === 'quote' ? await adviceOn(db, ticket, role) : null,
		bench:
			sheet === 'sheet' ? { trail: ticketTrail(ticket, catalog), gates: gateStates(ticket, catalog) } : null
	};
}

async function adviceOn(db: Database, ticket: Ticket, role: Role): Promise<PaperView['advice']> {
	const memory = await fittedMemory(db);
	const { inference, plan } = adviseSteps(memory, ticket);
	return {
		odds: oddsView(inference.odds, memory.catalog),
		plan: planView(plan, memory.catalog, seesCosts(role))
	};
}
