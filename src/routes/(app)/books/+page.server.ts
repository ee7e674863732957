import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import type { Catalog } from '$lib/core/catalog/catalog';
import {
	latestLines,
	sumOfAll,
	sumsBy,
	sumsByMonth,
	sumsByModel,
	type KeyedSum
} from '$lib/core/ledger/books';
import { meanProfit, profitPerHour, quotedAgainst } from '$lib/core/ledger/book-figures';
import { monthAfter, monthKeys, monthStart, type MonthRow } from '$lib/core/ledger/months';
import { wilsonInterval } from '$lib/core/statistics/rate-interval';
import { codeWords } from '$lib/core/units/code';
import { parseDay } from '$lib/core/units/calendar';
import { booksNow } from '$lib/server/books/book-memory';
import { closable, closeMonth, monthsOf } from '$lib/server/books/close-month';
import { moneyIn, openMoney, owedInvoices, reserveNow } from '$lib/server/books/queries';
import { catalogNow } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { readForm } from '$lib/server/http/read-form';
import { requireUser } from '$lib/server/http/guard';
import { stockValue } from '$lib/server/stock/queries';
import type { Actions, PageServerLoad } from './$types';

const SHOWN = 60;
/** rows of the table; those who cost most come first */
const ROWS = 12;
const OWED = 6;

const BY = ['model', 'operation', 'technician', 'outcome', 'kind', 'customer'] as const;
type By = (typeof BY)[number];

export const load: PageServerLoad = async ({ locals, url }) => {
	requireUser(locals, ['manager']);
	const db = await database();
	const now = Date.now();
	const catalog = await catalogNow(db);
	const { timeZone, warrantyDays } = catalog.shop;
	const books = await booksNow(db, timeZone);
	const filter = { model: url.searchParams.get('model') ?? '', month: url.searchParams.get('month') ?? '' };
	const dimension = BY.find((name) => name === url.searchParams.get('by')) ?? 'model';
	const sums = dimension === 'model' ? sumsByModel(books, filter.month) : sumsBy(books, dimension, filter);
	const rows = sums
		.map((sum) => rowOf(sum, dimension, catalog))
		.sort((a, b) => order(a, dimension) - order(b, dimension));
	const months = monthsOf(books, catalog);
	const thisMonth = monthKeys(timeZone)(now);
	const shown = /^\d{4}-\d{2}$/.test(filter.month) ? filter.month : thisMonth;
	const day = parseDay(url.searchParams.get('stock') ?? '');
	const [open, owed, visits, stockMinor] = await Promise.all([
		openMoney(db, now),
		owedInvoices(db, OWED),
		moneyIn(db, monthStart(shown, timeZone), monthStart(monthAfter(shown), timeZone)),
		day ? stockValue(db, day.ends(timeZone)) : null
	]);
	const total = sumOfAll(books, filter);
	return {
		asked: { ...filter, by: dimension },
		months: filter.model
			? sumsByMonth(books, filter.model).map((sum): MonthRow => ({
					...sum,
					month: sum.key,
					closed: false,
					corrected: null
				}))
			: months,
		toClose: closable(months, now, timeZone),
		rows: dimension === 'technician' ? rows : rows.slice(0, dimension === 'customer' ? ROWS : 30),
		total: { ...total, perHour: profitPerHour(total), mean: meanProfit(total) },
		open,
		owed,
		came: { month: shown, ...visits },
		stock: day ? { day: day.text, valueMinor: stockMinor ?? 0 } : null,
		reserve: {
			...reserveNow(books, now, catalog),
			days: warrantyDays
		},
		lines: latestLines(books, filter, SHOWN).map((line) => ({
			...line,
			label: catalog.models.get(line.model)?.label ?? line.model
		}))
	};
};

/** Losers first, by what a job of them brings; people by name, since theirs is no ranking. */
const order = (row: ReturnType<typeof rowOf>, dimension: By) =>
	dimension === 'technician' ? row.place : dimension === 'customer' ? row.profitMinor : row.mean.mean;

function rowOf(sum: KeyedSum, dimension: By, catalog: Catalog) {
	const quoted = quotedAgainst(sum.quoted);
	return {
		key: sum.key,
		label: labelOf(sum.key, dimension, catalog),
		place: sum.key === '' ? Infinity : [...catalog.technicians.keys()].indexOf(sum.key),
		tickets: sum.tickets,
		minutes: sum.minutes,
		paidMinor: sum.paidMinor,
		costMinor: sum.partsMinor + sum.labourMinor,
		profitMinor: sum.profitMinor,
		perHour: profitPerHour(sum),
		mean: meanProfit(sum),
		quoted: { ...quoted, share: wilsonInterval(quoted.overran, quoted.jobs, 0.8) }
	};
}

const NOBODY: Record<By, string> = {
	model: '',
	operation: 'no repair that worked',
	technician: 'no technician noted',
	outcome: '',
	kind: 'no customer named',
	customer: ''
};

function labelOf(key: string, dimension: By, { models, operations, technicians }: Catalog): string {
	if (key === '') return NOBODY[dimension];
	if (dimension === 'model') return models.get(key)?.label ?? key;
	if (dimension === 'operation') return operations.get(key)?.label ?? key;
	if (dimension === 'technician') return technicians.get(key)?.name ?? key;
	return dimension === 'customer' ? key : codeWords(key);
}

const closing = z.strictObject({ month: z.string().max(7), seen: z.coerce.number().int() });

export const actions: Actions = {
	close: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(request, closing);
		if (!form.ok) return fail(400, { problem: Object.values(form.problems)[0] });
		const answer = await closeMonth(await database(), user.name, Date.now(), form.value);
		return answer.ok ? { closed: form.value.month } : fail(409, { problem: answer.message });
	}
};
