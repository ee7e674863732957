import { buildCatalog, type Catalog } from './catalog';
import { catalogKey, catalogKind, type CatalogKind, type CatalogRecord } from './kinds';
import { needsOf, type Known } from './needs';
import { STARTER_CATALOG } from './starter-catalog';

/**
 * What the starter catalog holds and a shop does not: it is offered, and the shop takes what it wants. Nothing of its own is written over.
 * Beliefs follow what they speak of.
 */
const OFFERED: readonly CatalogKind[] = [
	'fault',
	'sign',
	'test',
	'operation',
	'part',
	'gate',
	'cause',
	'connector',
	'station',
	'procedure'
];
const BELIEFS: readonly CatalogKind[] = ['expectation', 'comeback-belief'];

const nameOf = (record: CatalogRecord) => `${record.record} ${catalogKey(record)}`;
const isHeld = ({ records }: Catalog, record: CatalogRecord) =>
	records[record.record].has(catalogKey(record));

/** Records that are offered one by one, in the order of their kinds. */
export const offeredOf = (catalog: Catalog): CatalogRecord[] =>
	OFFERED.flatMap((kind) =>
		STARTER_CATALOG.filter((record) => record.record === kind && !isHeld(catalog, record))
	);

/**
 * What is written where a shop takes some of the offered records: these, what they name of the starter catalog, and the beliefs about
 * anything that is there then.
 * @param wanted "fault accessory", "test cable-known-good"
 * @param knownOf how a catalog is asked for what it holds
 */
export function takenOf(
	catalog: Catalog,
	wanted: ReadonlySet<string>,
	knownOf: (catalog: Catalog) => Known
): CatalogRecord[] {
	const offered = offeredOf(catalog);
	const existing = Object.values(catalog.records).flatMap(
		(records) => [...records.values()] as CatalogRecord[]
	);
	const taken = new Map(
		offered.filter((record) => wanted.has(nameOf(record))).map((each) => [nameOf(each), each])
	);
	const after = () => knownOf(buildCatalog([...existing, ...taken.values()]));
	// what a record names comes with it
	for (let previousSize = -1; previousSize !== taken.size;) {
		previousSize = taken.size;
		const available = after();
		const unmet = [...taken.values()].flatMap((record) => unmetNames(record, available));
		for (const record of offered) if (unmet.includes(nameOf(record))) taken.set(nameOf(record), record);
	}
	const available = after();
	const beliefs = STARTER_CATALOG.filter(
		(record) => BELIEFS.includes(record.record) && !isHeld(catalog, record) && isMet(record, available)
	);
	return [...[...taken.values()].filter((record) => isMet(record, available)), ...beliefs];
}

/** Records that one names and that are not there: "fault accessory". */
function unmetNames(record: CatalogRecord, available: Known): string[] {
	const names: string[] = [];
	const watched: Known = {
		...available,
		has: (kind, key) => {
			const there = available.has(kind, key);
			if (!there) names.push(`${kind} ${key}`);
			return there;
		}
	};
	catalogKind(record.record).refers?.(
		record,
		needsOf(watched, '', () => undefined)
	);
	return names;
}

function isMet(record: CatalogRecord, available: Known): boolean {
	let met = true;
	catalogKind(record.record).refers?.(
		record,
		needsOf(available, '', () => (met = false))
	);
	return met;
}
