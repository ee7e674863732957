import { expectedReading, type Expected, type TakenWith } from './expected';
import type { MeterFactors } from './meter-factor';
import type { Mode, ReferenceRecord } from './reference';
import { groupBy } from '../units/group-by';

/** What a shop knows good about one model, to be looked up contact by contact. */
export interface KnownGoodBook {
	expected(pin: string, mode: Mode, conditions?: TakenWith): Expected | null;
}

export interface ModelReferences {
	own: readonly ReferenceRecord[];
	/** readings of other models of the family, same connector */
	sisters?: readonly ReferenceRecord[];
	factors?: MeterFactors;
}

export const EMPTY_BOOK: KnownGoodBook = { expected: () => null };

/** Opens the book of a model. Each answer is worked out once: a past of many tickets asks the same again. */
export function knownGoodBook({
	own: references,
	sisters = [],
	factors = new Map()
}: ModelReferences): KnownGoodBook {
	if (references.length === 0) return EMPTY_BOOK;
	const ownBy = byContact(references);
	const sistersBy = byContact(sisters);
	const answers = new Map<string, Expected | null>();
	return {
		expected(pin, mode, conditions = {}) {
			const contact = `${pin} ${mode}`;
			const key = `${contact}\t${conditions.meter ?? ''}\t${conditions.board ?? ''}`;
			const cached = answers.get(key);
			if (cached !== undefined) return cached;
			const answer = expectedReading(
				{ own: ownBy.get(contact) ?? [], sisters: sistersBy.get(contact) ?? [], factors },
				conditions
			);
			answers.set(key, answer);
			return answer;
		}
	};
}

const byContact = (references: readonly ReferenceRecord[]) =>
	groupBy(references, ({ pin, mode }) => `${pin} ${mode}`);
