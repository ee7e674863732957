import type { Knex } from 'knex';
import type { Queryable } from '../database/connection';
import type { Refusal } from '$lib/core/tickets/refusal';

/** The ticket that a form was for which was sent under this mark before; null the first time. */
export async function earlierAnswer(db: Queryable, once: string): Promise<string | null> {
	const row = (await db('submissions').where({ once }).first('answer')) as { answer: string } | undefined;
	return row?.answer ?? null;
}

/** A mark is of one form: used again for another ticket it says nothing of that one. */
export const markUsed = (number: string): Refusal => ({
	field: 'once',
	message: `was used for ${number} already; reload the page and enter it again`
});

/** Somebody else noted the same mark at the same moment. */
export class MarkTaken extends Error {}

/** Notes the answer to a form under its mark. @throws MarkTaken */
export async function noteAnswer(trx: Knex.Transaction, once: string, now: number, answer: string) {
	try {
		await trx('submissions').insert({ once, at: new Date(now), answer });
	} catch (error) {
		if ((error as { code?: string }).code === 'ER_DUP_ENTRY') throw new MarkTaken(once);
		throw error;
	}
}
