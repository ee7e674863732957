import { log } from '../logging/log';
import { promisify } from 'node:util';
import v8 from 'node:v8';
import { deflateRaw, inflateRaw } from 'node:zlib';
import { inTransaction, type Database, type Queryable } from '../database/connection';
import { holdCounter, readCounters, type Counters } from '../database/counters';
import type { Shares, Sums } from './learners';

/**
 * What was learnt, kept in the database over a start: twenty thousand tickets are read back in about a second where learning them
 * takes ten. It only saves learning: it is taken up by the very build that wrote it, and dropped where it does not fit.
 */
export interface Learnt {
	counters: Pick<Counters, 'history' | 'relearn' | 'reference'>;
	sums: Sums;
	tickets: Map<number, LearntTicket>;
}
export interface LearntTicket {
	number: string;
	closedAt: number | null;
	/** what it added to each sum, to be taken back as it was added */
	shares: Shares;
	/** operations that it was fixed by; null where it was not fixed */
	fixedBy: readonly string[] | null;
}

/** A row's bytes: well under what a server takes in one statement, 16 MB. */
const PIECE = 4 * 1024 * 1024;

/** @returns null where nothing was kept by this build, or not all of it is there */
export async function readLearnt(db: Queryable, version: string): Promise<Learnt | null> {
	const rows = await db('learnt').where({ version }).orderBy('piece').select('pieces', 'body');
	if (rows.length === 0 || rows.length !== rows[0]?.pieces) return null;
	try {
		return v8.deserialize(await promisify(inflateRaw)(Buffer.concat(rows.map(({ body }) => body)))) as Learnt;
	} catch (error) {
		// written by another version of the runtime, or cut off
		log.warn({ error: String(error) }, 'what was learnt before the start cannot be read: it is learnt anew');
		return null;
	}
}

/**
 * Keeps what was learnt, in the place of what was kept before.
 * @returns false where the shop has moved on since: it is not kept, since somebody may have been erased
 */
export async function writeLearnt(db: Database, version: string, learnt: Learnt): Promise<boolean> {
	const body = await promisify(deflateRaw)(v8.serialize(learnt), { level: 1 });
	const pieces = Math.ceil(body.length / PIECE);
	return inTransaction(db, async (trx) => {
		await holdCounter(trx, 'history');
		const { history, relearn } = await readCounters(trx);
		if (history !== learnt.counters.history || relearn !== learnt.counters.relearn) return false;
		await forgetLearnt(trx);
		for (let piece = 0; piece < pieces; piece++) {
			const part = body.subarray(piece * PIECE, (piece + 1) * PIECE);
			await trx('learnt').insert({ piece, pieces, version, body: part });
		}
		return true;
	});
}

/** Forgets what was kept: it may name who is erased. */
export async function forgetLearnt(trx: Queryable): Promise<void> {
	await trx('learnt').delete();
}
