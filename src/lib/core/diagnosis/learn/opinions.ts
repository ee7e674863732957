import type { Catalog } from '../../catalog/catalog';

/** What one source took for the fault before it was found. */
export interface Opinion {
	/** "customer:NAME" of a trade customer, "customer:" of any other, "technician:CODE" */
	source: string;
	fault: string;
}

interface Opinions {
	customer?: { name: string; kind: 'private' | 'trade' } | null | undefined;
	opinions?:
		readonly { from: 'customer' | 'technician'; fault: string; by?: string | undefined }[] | undefined;
}

/** The first opinion of every source, of faults that the catalog holds. */
export function opinionsOf(
	{ opinions = [], customer }: Opinions,
	catalog: Pick<Catalog, 'faults'>
): Opinion[] {
	const first = new Map<string, Opinion>();
	for (const { from, fault, by: author } of opinions) {
		const sourceName = from === 'technician' ? author : customer?.kind === 'trade' ? customer.name : '';
		const source = `${from}:${sourceName ?? ''}`;
		if (!first.has(source) && catalog.faults.has(fault)) first.set(source, { source, fault });
	}
	return [...first.values()];
}

/** "Ines first guessed a worn battery", from the key that the odds report; null of other evidence. */
export function opinionWords(catalog: Catalog, key: string): string | null {
	const at = key.lastIndexOf('=');
	const colon = key.indexOf(':');
	const [kind, sourceName, fault] = [key.slice(0, colon), key.slice(colon + 1, at), key.slice(at + 1)];
	if (kind !== 'customer' && kind !== 'technician') return null;
	const label = catalog.faults.get(fault)?.label ?? fault;
	if (kind === 'customer') return `${sourceName || 'the customer'} claims: ${label}`;
	return `first guess by ${catalog.technicians.get(sourceName)?.name ?? (sourceName || 'somebody')}: ${label}`;
}
