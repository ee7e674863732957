import { expectedReading, type Expected, type TakenWith } from './expected';
import type { MeterFactors } from './meter-factor';
import type { Mode, ReferenceRecord } from './reference';
import { groupBy } from '../units/group-by';

/** What a shop knows good about one model, to be looked up contact by contact. */
export interface KnownGoodBook {
	expected(pin: string, mode: Mode, taken?: TakenWith): Expected | null;
}

export interface ModelReferences {
	own: readonly ReferenceRecord[];
	/** readings of other models of the family, same connector */
	sisters?: readonly ReferenceRecord[];
	factors?: MeterFactors;
}

export const EMPTY_BOOK: KnownGoodBook = { expected: () => null };

/** Opens the book of a model. Each answer is worked out once: a past of many tickets asks the same again. */
export function knownGoodBook({ own, sisters = [], factors = new Map() }: ModelReferences): KnownGoodBook {
	if (own.length === 0) return EMPTY_BOOK;
	const ownBy = byContact(own);
	const sistersBy = byContact(sisters);
	const answers = new Map<string, Expected | null>();
	return {
		expected(pin, mode, taken = {}) {
			const contact = `${pin} ${mode}`;
			const key = `${contact}\t${taken.meter ?? ''}\t${taken.board ?? ''}`;
			const known = answers.get(key);
			if (known !== undefined) return known;
			const answer = expectedReading(
				{ own: ownBy.get(contact) ?? [], sisters: sistersBy.get(contact) ?? [], factors },
				taken
			);
			answers.set(key, answer);
			return answer;
		}
	};
}

const byContact = (references: readonly ReferenceRecord[]) =>
	groupBy(references, ({ pin, mode }) => `${pin} ${mode}`);
