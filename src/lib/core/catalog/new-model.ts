import { freeCode } from '../units/code';
import type { Catalog } from './catalog';
import type { CatalogRecordOf } from './kinds';

export type ModelRecordInput = CatalogRecordOf<'model'>;

/** A model from what the counter typed: its code from the words, made unique with a number. */
export function modelFromWords(
	label: string,
	connector: string | null,
	{ models }: Pick<Catalog, 'models'>
): ModelRecordInput {
	const code = freeCode(label, 'model', (isTaken) => models.has(isTaken));
	return { record: 'model', code, label, ...(connector === null ? {} : { connector }) };
}
