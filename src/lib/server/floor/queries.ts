import { promiseSlack, type Urgency } from '$lib/core/bench/promise';
import type { Wait } from '$lib/core/tickets/ticket-entries';
import { waitsNow, waitsOf } from '$lib/core/tickets/waits';
import type { Database } from '../database/connection';
import { adviseSteps } from '../diagnosis/advice';
import { shopMemory } from '../memory/shop-memory';
import { openTickets } from '../tickets/queries';

export interface Tag {
	number: string;
	version: number;
	model: string;
	customer: string | null;
	promisedAt: number | null;
	slackMs: number | null;
	urgency: Urgency;
	assignedTo: string | null;
	/** what it waits for; nothing where hands can go on */
	waits: Wait[];
	/** those of them that were set by name and can be ended */
	named: Wait[];
	/** the planner's next step and the hands-on minutes expected to the end */
	next: string | null;
	minutes: number;
	likely: { label: string; probability: number } | null;
	comeback: boolean;
	running: boolean;
}

/** Lets others go first between two tickets: a full house takes longer than anybody should wait. */
const aMoment = () => new Promise((resolve) => setImmediate(resolve));

/** Every open ticket as its tag, earliest promise first, and who works here. No costs. */
export async function floorView(db: Database, now: number) {
	const [memory, stored] = await Promise.all([shopMemory(db), openTickets(db)]);
	const tags: Tag[] = [];
	for (const { ticket, version } of stored) {
		await aMoment();
		const { inference, plan } = adviseSteps(memory, ticket, { depth: 0, firsts: 0, thinkMs: 0 });
		const top = inference.odds.faults[0];
		const [first] = plan.next;
		const minutes = first?.expectedMinutes ?? 0;
		tags.push({
			number: ticket.number,
			version,
			model: memory.catalog.models.get(ticket.model)?.label ?? ticket.model,
			customer: ticket.customer?.name ?? null,
			promisedAt: ticket.promisedAt,
			...promiseSlack(ticket.promisedAt, now, minutes),
			assignedTo: ticket.assignedTo,
			waits: waitsOf(ticket),
			named: waitsNow(ticket).map((wait) => wait.for),
			next: first?.label ?? null,
			minutes: Math.round(minutes),
			likely: top ? { label: top.label, probability: top.probability } : null,
			comeback: ticket.comebackOf !== null,
			running: ticket.running.length > 0
		});
	}
	const technicians = [...memory.catalog.technicians.values()].map(({ code, name, skills }) => ({
		code,
		name,
		skills: skills ?? []
	}));
	return { tags, technicians, now };
}
