import { itemAt } from '../units/vector';
import {
	addSum,
	nothingBooked,
	shareOut,
	sumOfLine,
	type BookLine,
	type BookSum,
	type Borne
} from './book-lines';
import { firstsOfChains, ownProfit } from './ticket-profit';

/** What lines are summed by. */
export const DIMENSIONS = ['outcome', 'kind', 'operation', 'technician', 'customer'] as const;
export type Dimension = (typeof DIMENSIONS)[number];
type Sums = Map<string, BookSum>;

/** All lines of one month and model. */
interface Cell {
	month: string;
	model: string;
	all: BookSum;
	by: Record<Dimension, Sums>;
}

/**
 * The shop's books, held so that one more ticket, or one that changed, costs what its own chain of comebacks costs and not a
 * reading of all. A view sums cells of months and models; their number does not grow with the tickets.
 */
export interface Books {
	lines: Map<number, BookLine>;
	borne: Map<number, Borne>;
	/** in the order of closing */
	order: BookLine[];
	byNumber: Map<string, BookLine>;
	/** lines by the number that they come back from */
	backs: Map<string, Set<number>>;
	cells: Map<string, Cell>;
	/** over all months and models */
	customers: Sums;
	/** how often something was put in: equal ones, equal books */
	changes: number;
}

export const emptyBooks = (): Books => ({
	lines: new Map(),
	borne: new Map(),
	order: [],
	byNumber: new Map(),
	backs: new Map(),
	cells: new Map(),
	customers: new Map(),
	changes: 0
});

/** More lines than this are sorted in at once, not one by one. */
const SORTED_ANEW = 500;

/**
 * Puts lines in the place of what they were, in place.
 * @param removed ids of tickets that are closed no more
 */
export function putLines(books: Books, lines: readonly BookLine[], removed: readonly number[] = []): void {
	books.changes += 1;
	const ids = [...removed, ...lines.map(({ id }) => id)];
	const staleLines = connected(
		books,
		ids.flatMap((id) => books.lines.get(id) ?? [])
	);
	for (const line of staleLines) count(books, line, -1);
	const isBulk = ids.length > SORTED_ANEW;
	if (isBulk) {
		const old = new Set(ids);
		books.order = [...books.order.filter(({ id }) => !old.has(id)), ...lines].sort((a, b) =>
			earlier(a, b) ? -1 : 1
		);
	}
	for (const id of ids) unlink(books, id, isBulk);
	for (const line of lines) link(books, line, isBulk);
	const connectedLines = connected(books, [
		...staleLines.flatMap(({ id }) => books.lines.get(id) ?? []),
		...lines
	]);
	// a line that only now is joined to others was counted by itself
	const counted = new Set(staleLines.map(({ id }) => id));
	const fresh = new Set(ids);
	for (const line of connectedLines) {
		if (!counted.has(line.id) && !fresh.has(line.id)) count(books, line, -1);
	}
	const first = firstsOfChains(connectedLines);
	for (const { id } of connectedLines) books.borne.set(id, { profitMinor: 0, bears: 0, borne: false });
	for (const line of connectedLines) {
		const bearer = books.borne.get(first(line).id) as Borne;
		bearer.profitMinor += ownProfit(line);
		if (first(line).id !== line.id) {
			bearer.bears += 1;
			(books.borne.get(line.id) as Borne).borne = true;
		}
	}
	for (const line of connectedLines) count(books, line, 1);
}

/** Lines with all that they come back from and that come back from them, however far. */
function connected(books: Books, from: readonly BookLine[]): BookLine[] {
	const found = new Map<number, BookLine>();
	const open = [...from];
	for (let line = open.pop(); line; line = open.pop()) {
		if (found.has(line.id)) continue;
		found.set(line.id, line);
		const parent = line.comebackOf === null ? undefined : books.byNumber.get(line.comebackOf);
		if (parent) open.push(parent);
		for (const id of books.backs.get(line.number) ?? []) open.push(books.lines.get(id) as BookLine);
	}
	return [...found.values()];
}

const earlier = (a: BookLine, b: BookLine) =>
	a.closedAt < b.closedAt || (a.closedAt === b.closedAt && a.id < b.id);

/** Where a line stands, or would stand, in the order of closing. */
function placeOf(order: readonly BookLine[], line: BookLine): number {
	let [low, high] = [0, order.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if (earlier(itemAt(order, middle), line)) low = middle + 1;
		else high = middle;
	}
	return low;
}

function link(books: Books, line: BookLine, ordered: boolean): void {
	books.lines.set(line.id, line);
	books.byNumber.set(line.number, line);
	if (!ordered) books.order.splice(placeOf(books.order, line), 0, line);
	if (line.comebackOf === null) return;
	const backs = books.backs.get(line.comebackOf) ?? new Set();
	books.backs.set(line.comebackOf, backs.add(line.id));
}

function unlink(books: Books, id: number, ordered: boolean): void {
	const line = books.lines.get(id);
	if (!line) return;
	books.lines.delete(id);
	books.borne.delete(id);
	books.byNumber.delete(line.number);
	if (!ordered) books.order.splice(placeOf(books.order, line), 1);
	if (line.comebackOf !== null) books.backs.get(line.comebackOf)?.delete(id);
}

/** Adds a line to every sum that it belongs to, or takes it out: exactly what was added. */
function count(books: Books, line: BookLine, times: 1 | -1): void {
	const borne = books.borne.get(line.id) as Borne;
	const sum = sumOfLine(line, borne);
	const cell = cellOf(books, line.month, line.model);
	addSum(cell.all, sum, times);
	const to = (sums: Sums, key: string, added: BookSum) => {
		const sum = sums.get(key) ?? nothingBooked();
		sums.set(key, sum);
		addSum(sum, added, times);
		if (sum.tickets === 0 && sum.minutes < 1e-9 && sum.profitMinor === 0) sums.delete(key);
	};
	to(cell.by.outcome, line.outcome, sum);
	to(cell.by.kind, line.customerKind ?? '', sum);
	to(cell.by.operation, line.operation ?? '', sum);
	if (line.customer !== null) {
		to(cell.by.customer, line.customer, sum);
		to(books.customers, line.customer, sum);
	}
	for (const [technician, share] of sharesOf(line, borne)) to(cell.by.technician, technician, share);
}

/** What a line brought by who worked it: its profit in proportion to their minutes; by nobody where no minutes are noted. */
function sharesOf({ hands }: BookLine, { profitMinor }: Borne): [string, BookSum][] {
	const workers = hands.filter(({ minutes }) => minutes > 0);
	if (workers.length === 0) return [['', { ...nothingBooked(), tickets: 1, profitMinor }]];
	const shares = shareOut(
		profitMinor,
		workers.map(({ minutes }) => minutes)
	);
	return workers.map(({ technician, minutes }, i) => [
		technician,
		{ ...nothingBooked(), tickets: 1, minutes, profitMinor: shares[i] as number }
	]);
}

function cellOf(books: Books, month: string, model: string): Cell {
	const key = `${month} ${model}`;
	const cell = books.cells.get(key);
	if (cell) return cell;
	const by = Object.fromEntries(DIMENSIONS.map((dimension) => [dimension, new Map()])) as Cell['by'];
	const made = { month, model, all: nothingBooked(), by };
	books.cells.set(key, made);
	return made;
}

/** Which lines are looked at; empty: all. */
export interface BookFilter {
	month: string;
	model: string;
}

export interface KeyedSum extends BookSum {
	key: string;
}

const chosenCells = (books: Books, { month, model }: BookFilter) =>
	[...books.cells.values()].filter(
		(cell) => (!month || cell.month === month) && (!model || cell.model === model) && cell.all.tickets > 0
	);

function mergedBy<Item>(
	items: readonly Item[],
	parts: (item: Item) => Iterable<[string, BookSum]>
): KeyedSum[] {
	const sums = new Map<string, KeyedSum>();
	for (const item of items) {
		for (const [key, sum] of parts(item)) {
			const previousSum = sums.get(key) ?? { key, ...nothingBooked() };
			sums.set(key, previousSum);
			addSum(previousSum, sum);
		}
	}
	return [...sums.values()];
}

/** Sums by month of one model or all, in the order of time. */
export const sumsByMonth = (books: Books, model = ''): KeyedSum[] =>
	mergedBy(chosenCells(books, { month: '', model }), (cell) => [[cell.month, cell.all]]).sort((a, b) =>
		a.key < b.key ? -1 : 1
	);

/** Sums by model of one month or all. */
export const sumsByModel = (books: Books, month = ''): KeyedSum[] =>
	mergedBy(chosenCells(books, { month, model: '' }), (cell) => [[cell.model, cell.all]]);

/** Sums by something else; of technicians profit, minutes and tickets alone. */
export function sumsBy(books: Books, dimension: Dimension, filter: BookFilter): KeyedSum[] {
	if (dimension === 'customer' && !filter.month && !filter.model) {
		return [...books.customers].map(([key, sum]) => ({ key, ...sum }));
	}
	return mergedBy(chosenCells(books, filter), (cell) => cell.by[dimension]);
}

/** One sum of all that is looked at. */
export const sumOfAll = (books: Books, filter: BookFilter): BookSum =>
	mergedBy(chosenCells(books, filter), (cell) => [['', cell.all]])[0] ?? nothingBooked();

/** The last lines to be closed, newest first. */
export function latestLines(books: Books, { month, model }: BookFilter, limit: number): (BookLine & Borne)[] {
	const found: (BookLine & Borne)[] = [];
	for (let i = month ? endOf(books.order, month) : books.order.length; i > 0 && found.length < limit; i--) {
		const line = itemAt(books.order, i - 1);
		if (month && line.month !== month) break;
		if (model && line.model !== model) continue;
		found.push({ ...line, ...(books.borne.get(line.id) as Borne) });
	}
	return found;
}

/** So many lines were closed up to the end of a month. */
function endOf(order: readonly BookLine[], month: string): number {
	let [low, high] = [0, order.length];
	while (low < high) {
		const middle = (low + high) >> 1;
		if (itemAt(order, middle).month <= month) low = middle + 1;
		else high = middle;
	}
	return low;
}
