import type { Knex } from 'knex';

/** What a form that was sent twice was answered the first time; null the first time. */
export async function earlierAnswer(trx: Knex.Transaction, once: string): Promise<string | null> {
	const row = (await trx('submissions').where({ once }).first('answer')) as { answer: string } | undefined;
	return row?.answer ?? null;
}

export async function noteAnswer(trx: Knex.Transaction, once: string, now: number, answer: string) {
	await trx('submissions').insert({ once, at: new Date(now), answer });
}
