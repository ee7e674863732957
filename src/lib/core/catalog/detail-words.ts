import { fromMinor } from '../units/money';
import { codeWords, nameWords } from '../units/code';
import type { Catalog } from './catalog';
import type { CatalogKind } from './kinds';

/** Fields of a change that name a record, by the kind that they name. */
const NAMED: Readonly<Record<string, CatalogKind>> = {
	model: 'model',
	sign: 'sign',
	fault: 'fault',
	faults: 'fault',
	ownFaults: 'fault',
	fixes: 'fault',
	given: 'fault',
	test: 'test',
	operation: 'operation',
	gate: 'gate',
	gates: 'gate',
	undoes: 'gate',
	technician: 'technician',
	to: 'technician',
	assignedTo: 'technician',
	sku: 'part',
	connector: 'connector',
	supplier: 'supplier',
	station: 'station',
	cause: 'cause'
};
/** Fields whose text is a code of the program, not a person's words. */
const CODED = new Set([
	'outcome',
	'state',
	'for',
	'mode',
	'stage',
	'list',
	'kind',
	'role',
	'verb',
	'when',
	'grade',
	'did',
	'of',
	'found',
	'how',
	'pays',
	'hears_by'
]);
/** Said elsewhere in the same line. */
const LEFT_OUT = new Set(['verb', 'record']);

/**
 * What a change says, in words: labels for codes, amounts for hundredths, lists and what lies within by commas.
 * @param detail fields of a change as the audit keeps them
 * @example detailWords({ verb: 'quote', priceMinor: 5800 }, catalog) // 'price 58.00'
 */
export function detailWords(
	detail: Readonly<Record<string, unknown>>,
	catalog: Pick<Catalog, 'records'>
): string {
	return Object.entries(detail)
		.filter(([key, value]) => !LEFT_OUT.has(key) && value != null && !isEmpty(value))
		.map(([key, value]) => `${nameWords(key)} ${valueWords(key, value, catalog)}`.trim())
		.join(', ');
}

const isEmpty = (value: unknown) => Array.isArray(value) && value.length === 0;

function valueWords(key: string, value: unknown, catalog: Pick<Catalog, 'records'>): string {
	if (Array.isArray(value)) return value.map((item) => valueWords(key, item, catalog)).join(' and ');
	if (typeof value === 'object' && value !== null)
		return `(${detailWords(value as Record<string, unknown>, catalog)})`;
	if (typeof value === 'boolean') return value ? 'yes' : 'no';
	if (typeof value === 'number') return key.endsWith('Minor') ? fromMinor(value).toFixed(2) : String(value);
	const text = String(value);
	const kind = NAMED[key];
	if (kind) {
		const record = catalog.records[kind].get(text) as { label?: string; name?: string } | undefined;
		return record?.label ?? record?.name ?? codeWords(text);
	}
	return CODED.has(key) ? codeWords(text) : text;
}
