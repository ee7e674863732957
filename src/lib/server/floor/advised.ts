import type { Plan } from '$lib/core/diagnosis/plan/plan-view';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import type { Database } from '../database/connection';
import { aMoment, NEVER, type Stop } from '../database/in-turns';
import { adviseSteps } from '../diagnosis/advice';
import type { ShopMemory } from '../memory/shop-memory';
import { openTickets, openVersions } from '../tickets/queries';

/** An open ticket with what the engine advises on it. */
export interface Advised {
	ticket: Ticket;
	version: number;
	plan: Plan;
	likely: { label: string; probability: number } | null;
	/** what the shop knew when it was advised on */
	knowledge: string;
}

/** Copies of open tickets with their advice, per pool: every use compares versions, so that nothing of a second process is missed. */
const kept = new WeakMap<Database, Map<string, Advised>>();
/** So long tickets whose advice leans on what was known before may be thought about anew within one look; the others later. */
const RENEW_MS = 40;

const knowledgeOf = ({ counters }: ShopMemory) =>
	[counters.catalog, counters.relearn, counters.history, counters.reference].join('.');

/** Every open ticket with its advice, in the order of its promise; only what changed is read and thought about again. */
export async function advisedTickets(
	db: Database,
	memory: ShopMemory,
	stop: Stop = NEVER
): Promise<Advised[]> {
	const copies = kept.get(db) ?? new Map<string, Advised>();
	kept.set(db, copies);
	const versions = await openVersions(db);
	const changed = versions.filter(({ number, version }) => copies.get(number)?.version !== version);
	if (changed.length > 0) {
		const numbers = changed.map(({ number }) => number);
		for (const { ticket, version } of await openTickets(db, numbers)) {
			copies.set(ticket.number, adviseOn(memory, ticket, version));
			await aMoment(stop);
		}
	}
	const open = new Set(versions.map(({ number }) => number));
	for (const number of copies.keys()) if (!open.has(number)) copies.delete(number);
	await renew(memory, copies, stop);
	return versions.flatMap(({ number }) => copies.get(number) ?? []);
}

function adviseOn(memory: ShopMemory, ticket: Ticket, version: number): Advised {
	const { inference, plan } = adviseSteps(memory, ticket, { depth: 0, firsts: 0 });
	const top = inference.odds.faults[0];
	return {
		ticket,
		version,
		plan,
		likely: top ? { label: top.label, probability: top.probability } : null,
		knowledge: knowledgeOf(memory)
	};
}

/** What the shop learnt since: advice is brought up bit by bit, so that a closing does not hold up the floor. */
async function renew(memory: ShopMemory, copies: Map<string, Advised>, stop: Stop): Promise<void> {
	const knowledge = knowledgeOf(memory);
	const until = performance.now() + RENEW_MS;
	for (const [number, { ticket, version, knowledge: knowledgeThen }] of copies) {
		if (knowledgeThen === knowledge) continue;
		if (performance.now() > until) return;
		copies.set(number, adviseOn(memory, ticket, version));
		await aMoment(stop);
	}
}
