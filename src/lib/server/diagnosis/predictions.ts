import { createHash } from 'node:crypto';
import { foretellInOrder, type Prediction } from '$lib/core/diagnosis/record/foretell';
import { inTransaction, type Database, type Queryable } from '../database/connection';
import type { Row } from '../database/tables';
import { rowCount } from '../database/row-count';
import { inChunks } from '../database/chunks';
import { asJson } from '../database/json';
import { planningCosts } from './advice';
import { shopMemory, type ClosedCase, type ShopMemory } from '../memory/shop-memory';

/** So many of the newest closed tickets are foretold; older ones are learnt from only. */
const MOST_FORETOLD = 5000;
const CHUNK = 25;
/** Raised with every change of the engine that changes odds or plans: what an earlier one foretold is foretold anew. */
const ENGINE = 9;
/** of this shop alone: a server may hold several */
const LOCK = "CONCAT('tavrek-predictions ', DATABASE())";

export interface Progress {
	done: number;
	total: number;
}

/** Where the predictions are behind: the tickets still to be foretold, in order, and those before them. */
interface Behind {
	earlierCases: ClosedCase[];
	cases: ClosedCase[];
}

/**
 * What a prediction rests on, of the ticket itself. Measured answers are left out: what is known good later judges
 * them anew, and a forecast is not made again for that.
 */
function digestOf({ closedAt, lesson, fixedBy }: ClosedCase): string {
	const { signs, answers, opinions = [] } = lesson.features;
	const tested = answers.filter(({ question }) => !question.includes(':'));
	const told = JSON.stringify([
		ENGINE,
		closedAt,
		lesson.model,
		lesson.faults,
		[...signs].sort(),
		tested,
		opinions,
		fixedBy
	]);
	return createHash('sha256').update(told).digest('hex').slice(0, 32);
}

/**
 * The first moment from which the predictions do not hold: a ticket closed then has none, or was changed or reopened
 * since. All from there on are made again, for they were told what is no longer so.
 */
async function findBehind(db: Queryable, { cases: casesOf }: ShopMemory): Promise<Behind> {
	const all = casesOf();
	const cases = all.slice(-MOST_FORETOLD);
	const rows = await db('predictions').select('ticket_id', 'closed_at', 'digest');
	const stored = new Map(rows.map((row) => [Number(row.ticket_id), row]));
	const isCurrent = (closedCase: ClosedCase) => stored.get(closedCase.id)?.digest === digestOf(closedCase);
	let since = cases.find((closedCase) => !isCurrent(closedCase))?.closedAt ?? Infinity;
	const closed = new Set(all.map(({ id }) => id));
	for (const { ticket_id, closed_at } of rows) {
		if (!closed.has(Number(ticket_id))) since = Math.min(since, closed_at.getTime());
	}
	const from = cases.findIndex(({ closedAt }) => closedAt >= since);
	if (since < Infinity) await db('predictions').where('closed_at', '>=', new Date(since)).delete();
	const due = from < 0 ? [] : cases.slice(from);
	return { earlierCases: all.slice(0, all.length - due.length), cases: due };
}

/**
 * Foretells every closed ticket that is not foretold yet, in order of time, and keeps it. Only one does so at a time;
 * a second caller goes away empty-handed. What is done stays done when it is stopped in between.
 * @param pause called after every ticket; false stops
 */
export async function keepPredictions(
	db: Database,
	onProgress: (progress: Progress) => void = () => undefined,
	pause: () => Promise<boolean> = () => Promise.resolve(true)
): Promise<void> {
	await exclusively(db, async () => {
		const memory = await shopMemory(db, { whole: true });
		const { earlierCases: upToDate, cases } = await findBehind(db, memory);
		const lessons = upToDate.map(({ lesson }) => lesson);
		const foretold = foretellInOrder(memory.catalog, lessons, cases, (model) => planningCosts(memory, model));
		let stored = 0;
		for (let at = 0; at < cases.length; at += CHUNK) {
			const chunk = cases.slice(at, at + CHUNK);
			const rows: object[] = [];
			let running = true;
			for (const closedCase of chunk) {
				const { value } = foretold.next();
				rows.push({
					ticket_id: closedCase.id,
					closed_at: new Date(closedCase.closedAt),
					digest: digestOf(closedCase),
					prediction: JSON.stringify(value)
				});
				running = await pause();
				if (!running) break;
			}
			await inTransaction(db, async (trx) => {
				await trx('predictions').insert(rows).onConflict('ticket_id').merge();
			});
			stored += rows.length;
			onProgress({ done: stored, total: cases.length });
			if (!running) return;
		}
	});
}

/** Runs something that only one at a time may run on this database; not at all where another runs it. */
async function exclusively(db: Database, run: () => Promise<void>): Promise<void> {
	const connection = (await db.client.acquireConnection()) as unknown;
	try {
		const [[answer]] = (await db.raw(`SELECT GET_LOCK(${LOCK}, 0) AS got`).connection(connection)) as [
			[{ got: number }],
			unknown
		];
		if (Number(answer.got) !== 1) return;
		try {
			await run();
		} finally {
			await db.raw(`SELECT RELEASE_LOCK(${LOCK})`).connection(connection);
		}
	} finally {
		await db.client.releaseConnection(connection);
	}
}

/** What is foretold so far, in the order of closing. */
export async function storedPredictions(db: Queryable): Promise<Prediction[]> {
	const read = (afterId: number) =>
		db('predictions')
			.where('ticket_id', '>', afterId)
			.orderBy('ticket_id')
			.limit(2000)
			.select<{ id: number; prediction: Row<'predictions'>['prediction'] }[]>(
				'ticket_id as id',
				'prediction'
			);
	const predictions: Prediction[] = [];
	for await (const rows of inChunks(2000, read)) {
		for (const { prediction } of rows) predictions.push(asJson(prediction));
	}
	return predictions.sort((a, b) => a.closedAt - b.closedAt || (a.number < b.number ? -1 : 1));
}

/** How many closed tickets are there to be foretold, and how many are. */
export async function predictionProgress(db: Queryable, memory: ShopMemory): Promise<Progress> {
	const stored = await rowCount(db('predictions'));
	const total = Math.min(MOST_FORETOLD, memory.cases().length);
	return { done: Math.min(total, stored), total };
}
