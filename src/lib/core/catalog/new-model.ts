import { codeFromLabel } from '../units/code';
import type { Catalog } from './catalog';
import type { CatalogRecordOf } from './kinds';

export type ModelRecordInput = CatalogRecordOf<'model'>;

/** A model from what the counter typed: its code from the words, made unique with a number. */
export function modelFromWords(
	label: string,
	connector: string | null,
	{ models }: Pick<Catalog, 'models'>
): ModelRecordInput {
	const base = codeFromLabel(label) || 'model';
	let code = base;
	for (let n = 2; models.has(code); n++) code = `${base.slice(0, 60)}-${n}`;
	return { record: 'model', code, label, ...(connector === null ? {} : { connector }) };
}
