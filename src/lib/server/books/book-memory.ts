import type { BookLine } from '$lib/core/ledger/book-lines';
import { emptyBooks, putLines, type Books } from '$lib/core/ledger/books';
import { monthKeys } from '$lib/core/ledger/months';
import { groupBy } from '$lib/core/units/group-by';
import type { Database, Queryable } from '../database/connection';
import { inChunks } from '../database/chunks';
import { exact, MONEY_COLUMNS, moneyOf, type MoneyColumns } from '../database/money-columns';
import { projection } from '../database/projection';
import type { Row } from '../database/tables';

type BookRow = Pick<
	Row<'tickets'>,
	| 'id'
	| 'number'
	| 'model'
	| 'opened_at'
	| 'closed_at'
	| 'outcome'
	| 'comeback_of'
	| 'cause'
	| 'quoted_minor'
	| 'accepted'
	| 'minutes'
> &
	MoneyColumns & { customer: string | null; customer_kind: Row<'customers'>['kind'] | null };

const CHUNK = 5000;

const bookProjection = projection<Books, [timeZone: string]>({
	counter: 'history',
	basis: (timeZone) => timeZone,
	empty: emptyBooks,
	putChanged: (db, books, since, timeZone) => readSince(db, books, since, monthKeys(timeZone))
});

/** The shop's books as they stand; only what changed since is read. */
export const booksNow = async (db: Database, timeZone: string): Promise<Books> =>
	(await bookProjection(db, timeZone)).copy;

async function readSince(
	db: Queryable,
	books: Books,
	since: number,
	monthOf: (at: number) => string
): Promise<void> {
	const read = (afterId: number) =>
		selectLines(db)
			.where('tickets.id', '>', afterId)
			.andWhere('history_seq', '>', since)
			.orderBy('tickets.id')
			.limit(CHUNK);
	for await (const rows of inChunks(CHUNK, read)) {
		const closed = rows.filter(({ closed_at }) => closed_at !== null);
		const lines = await withHands(db, closed, monthOf);
		const open = rows.filter(({ closed_at }) => closed_at === null).map(({ id }) => id);
		putLines(books, lines, open);
	}
}

const selectLines = (db: Queryable) =>
	db('tickets')
		.leftJoin('customers', 'customers.id', 'tickets.customer_id')
		.select<BookRow[]>(
			'tickets.id as id',
			'number',
			'model',
			'opened_at',
			'closed_at',
			'outcome',
			'comeback_of',
			'cause',
			'quoted_minor',
			'accepted',
			...MONEY_COLUMNS,
			'minutes',
			'customers.name as customer',
			'customers.kind as customer_kind'
		);

type AttemptRow = Pick<Row<'attempts'>, 'ticket_id' | 'operation' | 'technician' | 'minutes' | 'resolved'>;

async function withHands(
	db: Queryable,
	rows: readonly BookRow[],
	monthOf: (at: number) => string
): Promise<BookLine[]> {
	if (rows.length === 0) return [];
	const attempts = await db('attempts')
		.whereIn(
			'ticket_id',
			rows.map(({ id }) => id)
		)
		.orderBy(['ticket_id', 'n'])
		.select('ticket_id', 'operation', 'technician', 'minutes', 'resolved');
	const work = groupBy(attempts, ({ ticket_id }) => ticket_id);
	return rows.map((row) => lineOf(row, work.get(row.id) ?? [], monthOf));
}

function lineOf(row: BookRow, attempts: readonly AttemptRow[], monthOf: (at: number) => string): BookLine {
	const closedAt = (row.closed_at as Date).getTime();
	const hands = new Map<string, number>();
	for (const { technician, minutes } of attempts) {
		if (technician && minutes) hands.set(technician, (hands.get(technician) ?? 0) + minutes);
	}
	return {
		id: row.id,
		number: row.number,
		model: row.model,
		openedAt: row.opened_at.getTime(),
		closedAt,
		month: monthOf(closedAt),
		outcome: row.outcome ?? '',
		comebackOf: row.comeback_of,
		cause: row.cause,
		quotedMinor: row.quoted_minor === null || !row.accepted ? null : exact(row.quoted_minor),
		customer: row.customer,
		customerKind: row.customer === null ? null : (row.customer_kind ?? 'private'),
		...moneyOf(row),
		minutes: Number(row.minutes),
		operation: attempts.findLast(({ resolved }) => resolved)?.operation ?? null,
		hands: [...hands].map(([technician, minutes]) => ({ technician, minutes }))
	};
}
