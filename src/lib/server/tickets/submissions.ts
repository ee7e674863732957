import type { Knex } from 'knex';
import type { Queryable } from '../database/connection';
import type { Refusal } from '$lib/core/tickets/refusal';

/** What a form did that was sent under a mark. */
export interface Submitted {
	number: string;
	/** null: noted before the two were told apart */
	form: 'take-in' | 'change' | null;
}

/** What a form that was sent under this mark did; null the first time. */
export async function submittedBefore(db: Queryable, once: string): Promise<Submitted | null> {
	const row = await db('submissions').where({ once }).first('answer');
	if (!row) return null;
	const [number = '', form] = row.answer.split(' ');
	return { number, form: form === 'take-in' || form === 'change' ? form : null };
}

/** Whether a form of a ticket is the one that was sent under its mark before. */
export const isSameForm = (
	earlier: Submitted,
	form: 'take-in' | 'change',
	number = earlier.number
): boolean => earlier.number === number && (earlier.form === null || earlier.form === form);

/** A mark is of one form: used again for another it says nothing of that one. */
export const markUsed = ({ number }: Submitted): Refusal => ({
	field: 'once',
	message: `was used for ${number} already; reload the page and enter it again`
});

/** Somebody else noted the same mark at the same moment. */
export class MarkTaken extends Error {}

/** Notes what a form did under its mark. @throws MarkTaken */
export async function noteSubmitted(
	trx: Knex.Transaction,
	once: string,
	now: number,
	{ number, form }: { number: string; form: 'take-in' | 'change' }
) {
	try {
		await trx('submissions').insert({ once, at: new Date(now), answer: `${number} ${form}` });
	} catch (error) {
		if ((error as { code?: string }).code === 'ER_DUP_ENTRY') throw new MarkTaken(once);
		throw error;
	}
}
