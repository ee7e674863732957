import { adviseSteps, type Plan } from '../diagnosis/advice';
import { keepPredictions } from '../diagnosis/predictions';
import { shopMemory } from '../diagnosis/shop-memory';
import type { Database } from '../database/connection';
import { findTicket } from '../tickets/queries';

/** What takes too long for a request's own thread. */
export type Question = { kind: 'plan'; number: string } | { kind: 'keep-predictions' };

/** A plan that looked further than there is time for while a page waits. */
export interface FurtherPlan {
	/** version of the ticket that it was made for */
	version: number;
	plan: Plan;
}
export type Answer = FurtherPlan | null;

/** So long a plan may be looked at from behind a page that stands already. */
const THINK_FURTHER_MS = 1500;

/** Two more steps behind the ten best first ones: three in all. */
const FURTHER = { depth: 2, firsts: 10, thinkMs: THINK_FURTHER_MS };

export async function think(db: Database, question: Question): Promise<Answer> {
	if (question.kind === 'keep-predictions') {
		await keepPredictions(db, undefined, () => new Promise((resolve) => setImmediate(() => resolve(true))));
		return null;
	}
	const [memory, stored] = await Promise.all([shopMemory(db), findTicket(db, question.number)]);
	if (!stored) return null;
	const { plan } = adviseSteps(memory, stored.ticket, FURTHER);
	return { version: stored.version, plan };
}
