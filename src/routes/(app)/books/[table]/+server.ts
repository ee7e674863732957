import { error, type RequestHandler } from '@sveltejs/kit';
import { sumBooks, monthKeys, type BookSum } from '$lib/core/ledger/book-sums';
import { formatInstant } from '$lib/core/units/instant';
import { fromMinor } from '$lib/core/units/money';
import { bookLines } from '$lib/server/books/queries';
import { catalogNow } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { csvResponse, type Cell } from '$lib/server/house/csv-response';
import { requireUser } from '$lib/server/house/guard';

const SUMS = ['tickets', 'paid', 'parts', 'labour', 'minutes', 'profit'];
const sumCells = ({ tickets, paidMinor, partsMinor, labourMinor, minutes, profitMinor }: BookSum): Cell[] => [
	tickets,
	...[paidMinor, partsMinor, labourMinor].map(fromMinor),
	minutes,
	fromMinor(profitMinor)
];

/** The tables of the books, as files for a spreadsheet. */
export const GET: RequestHandler = async ({ locals, params }) => {
	requireUser(locals, ['manager']);
	const db = await database();
	const [lines, catalog] = await Promise.all([bookLines(db), catalogNow(db)]);
	const monthOf = monthKeys(catalog.shop.timeZone);
	const by = (name: string, keyOf: (line: (typeof lines)[number]) => string) =>
		csvResponse(
			`books-${name}`,
			[name, ...SUMS],
			sumBooks(lines, keyOf).map((sum) => [sum.key, ...sumCells(sum)])
		);
	if (params.table === 'models.csv') return by('model', ({ model }) => model);
	if (params.table === 'months.csv') return by('month', ({ closedAt }) => monthOf(closedAt));
	if (params.table === 'customers.csv') return by('customer', ({ customer }) => customer ?? '');
	if (params.table !== 'tickets.csv')
		error(
			404,
			'There is no such table. The books give tickets.csv, models.csv, months.csv and customers.csv.'
		);
	return csvResponse(
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
			'parts',
			'labour',
			'minutes',
			'profit'
		],
		lines.map((line) => [
			line.number,
			formatInstant(line.closedAt),
			line.model,
			line.customer,
			line.outcome,
			line.comebackOf,
			line.quotedMinor === null ? null : fromMinor(line.quotedMinor),
			...[line.paidMinor, line.partsMinor, line.labourMinor].map(fromMinor),
			line.minutes,
			fromMinor(line.profitMinor)
		])
	);
};
