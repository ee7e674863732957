import type { Catalog } from './catalog';
import type { CatalogRecordOf } from './kinds';

type Expectation = CatalogRecordOf<'expectation'>;
/** Starting beliefs of one sign, test or question of a measurement. */
interface Expectations {
	/** those that hold whatever else was answered */
	plain: readonly Expectation[];
	/** those that hold where another question was answered so */
	conditional: readonly Expectation[];
}
const NONE: Expectations = { plain: [], conditional: [] };

const byCatalog = new WeakMap<Catalog['expectations'], Map<string, Expectations>>();

/** @param subject code of a sign or a test, or a question of a measurement */
export function expectationsOf(
	{ expectations }: Pick<Catalog, 'expectations'>,
	subject: string
): Expectations {
	let bySubject = byCatalog.get(expectations);
	if (!bySubject) {
		bySubject = new Map();
		for (const expectation of expectations) {
			const { sign, test, measured, where } = expectation;
			const key = sign ?? test ?? measured ?? '';
			const { plain, conditional } = bySubject.get(key) ?? NONE;
			bySubject.set(
				key,
				where
					? { plain, conditional: [...conditional, expectation] }
					: { plain: [...plain, expectation], conditional }
			);
		}
		byCatalog.set(expectations, bySubject);
	}
	return bySubject.get(subject) ?? NONE;
}
