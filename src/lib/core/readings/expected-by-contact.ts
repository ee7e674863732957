import type { Connector } from '../catalog/catalog';
import type { Expected, TakenWith } from './expected';
import type { KnownGoodBook } from './known-good-book';
import { MODES } from '../units/probed-place';
import type { ReferenceRecord } from './reference';

/** What each contact of a connector should read on one model, by contact and mode ("A4 diode"); contacts that nothing is known of are left out. */
export function expectedByContact(
	book: KnownGoodBook,
	connector: Connector | null | undefined,
	taken: TakenWith
): Record<string, Expected> {
	const expected: Record<string, Expected> = {};
	for (const { pin } of connector?.pins ?? []) {
		for (const mode of MODES) {
			const found = book.expected(pin, mode, taken);
			if (found) expected[`${pin} ${mode}`] = found;
		}
	}
	return expected;
}

/** Meters and board revisions that a model was read with: where it is known good, and on a ticket. Each once, in order. */
export function readWith(
	references: readonly Pick<ReferenceRecord, 'meter' | 'board'>[],
	readings: readonly Pick<ReferenceRecord, 'meter' | 'board'>[]
): { meters: string[]; boards: string[] } {
	const names = (all: (string | undefined)[]) =>
		[...new Set(all.filter((name) => name !== undefined))].sort();
	return {
		meters: names([...references, ...readings].map(({ meter }) => meter)),
		boards: names([...references, ...readings].map(({ board }) => board))
	};
}
