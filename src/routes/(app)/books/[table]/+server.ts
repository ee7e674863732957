import { error, type RequestHandler } from '@sveltejs/kit';
import type { BookSum } from '$lib/core/ledger/book-lines';
import { meanProfit, quotedAgainst } from '$lib/core/ledger/book-figures';
import {
	latestLines,
	sumsBy,
	sumsByModel,
	type Books,
	type Dimension,
	type KeyedSum
} from '$lib/core/ledger/books';
import { formatInstant } from '$lib/core/units/instant';
import { fromMinor } from '$lib/core/units/money';
import { booksNow } from '$lib/server/books/book-memory';
import { monthsOf } from '$lib/server/books/close-month';
import { owedInvoices } from '$lib/server/books/queries';
import { catalogNow } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { csvResponse, type Cell } from '$lib/server/http/csv-response';
import { requireUser } from '$lib/server/http/guard';

const ALL = { month: '', model: '' };
const SUMS = ['tickets', 'paid', 'tax', 'parts', 'labour', 'minutes', 'profit'];
const amount = (minor: number | null) => (minor === null ? null : fromMinor(Math.round(minor)));
const sumCells = (sum: Omit<BookSum, 'quoted' | 'jobs' | 'profitSquares'>): Cell[] => [
	sum.tickets,
	...[sum.paidMinor, sum.taxMinor, sum.partsMinor, sum.labourMinor].map(fromMinor),
	Math.round(sum.minutes * 100) / 100,
	fromMinor(sum.profitMinor)
];

const MEANS = [
	'jobs',
	'profit_a_job',
	'low',
	'high',
	'quoted_jobs',
	'quoted_a_job',
	'cost_a_job',
	'overran',
	'pays_from'
];
function meanCells(sum: BookSum): Cell[] {
	const { mean, low, high, from } = meanProfit(sum);
	const { jobs, quotedMinor, costMinor, overran, breakEvenMinor } = quotedAgainst(sum.quoted);
	return [
		from,
		...[mean, low, high].map(amount),
		jobs,
		...[quotedMinor, costMinor].map(amount),
		overran,
		amount(breakEvenMinor)
	];
}

function tableBy(name: string, sums: readonly KeyedSum[]): Response {
	const rows = [...sums].sort((a, b) => (a.key < b.key ? -1 : 1));
	return csvResponse(
		`books-${name}s`,
		[name, ...SUMS, ...MEANS],
		rows.map((sum) => [sum.key, ...sumCells(sum), ...meanCells(sum)])
	);
}

/** Technicians have hours and what they brought; no payments of their own. */
const byTechnician = (books: Books) =>
	csvResponse(
		'books-technicians',
		['technician', 'tickets', 'minutes', 'profit'],
		sumsBy(books, 'technician', ALL)
			.sort((a, b) => (a.key < b.key ? -1 : 1))
			.map(({ key, tickets, minutes, profitMinor }) => [key, tickets, minutes, fromMinor(profitMinor)])
	);

const TABLES: Record<string, Dimension> = {
	'operations.csv': 'operation',
	'outcomes.csv': 'outcome',
	'kinds.csv': 'kind',
	'customers.csv': 'customer'
};

/** The tables of the books, as files for a spreadsheet. */
export const GET: RequestHandler = async ({ locals, params }) => {
	requireUser(locals, ['manager']);
	const db = await database();
	const catalog = await catalogNow(db);
	const books = await booksNow(db, catalog.shop.timeZone);
	const table = params.table ?? '';
	const dimension = TABLES[table];
	if (dimension) return tableBy(dimension, sumsBy(books, dimension, ALL));
	if (table === 'models.csv') return tableBy('model', sumsByModel(books));
	if (table === 'technicians.csv') return byTechnician(books);
	if (table === 'months.csv') {
		return csvResponse(
			'books-months',
			['month', ...SUMS, 'closed', 'corrected'],
			monthsOf(books, catalog).map((row) => [
				row.month,
				...sumCells(row),
				row.closed ? 'yes' : 'no',
				row.corrected ? fromMinor(row.corrected.profitMinor) : null
			])
		);
	}
	if (table === 'owed.csv') {
		return csvResponse(
			'books-owed',
			['number', 'customer', 'owed', 'due_at'],
			(await owedInvoices(db, MOST_OWED)).map(({ number, customer, owedMinor, dueAt }) => [
				number,
				customer,
				fromMinor(owedMinor),
				dueAt === null ? null : formatInstant(dueAt)
			])
		);
	}
	if (table !== 'tickets.csv') {
		const tableNames = ['tickets.csv', 'models.csv', 'technicians.csv', 'months.csv', 'owed.csv'];
		error(
			404,
			`There is no such table. The books give ${[...tableNames, ...Object.keys(TABLES)].join(', ')}.`
		);
	}
	return tickets(books);
};
const MOST_OWED = 10_000;

const tickets = (books: Books) =>
	csvResponse(
		'books-tickets',
		[
			'number',
			'closed_at',
			'model',
			'customer',
			'outcome',
			'comeback_of',
			'quoted',
			'paid',
			'tax',
			'parts',
			'labour',
			'minutes',
			'profit'
		],
		latestLines(books, ALL, Infinity).map((line) => [
			line.number,
			formatInstant(line.closedAt),
			line.model,
			line.customer,
			line.outcome,
			line.comebackOf,
			line.quotedMinor === null ? null : fromMinor(line.quotedMinor),
			...[line.paidMinor, line.taxMinor, line.partsMinor, line.labourMinor].map(fromMinor),
			line.minutes,
			fromMinor(line.borne ? 0 : line.profitMinor)
		])
	);
