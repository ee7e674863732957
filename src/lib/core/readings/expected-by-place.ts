import type { Connector, Model } from '../catalog/catalog';
import type { Expected, TakenWith } from './expected';
import type { KnownGoodBook } from './known-good-book';
import { MODES, pointPlace } from '../units/probed-place';
import type { ReferenceRecord } from './reference';

/** Where a model is probed: the contacts of its port, and the points of its board. */
export const probedPlaces = (
	connector: Connector | null | undefined,
	model: Pick<Model, 'points'> | null | undefined
): string[] => [
	...(connector?.pins ?? []).map(({ pin }) => pin),
	...(model?.points ?? []).map(({ code }) => pointPlace(code))
];

/** What each place should read on one model, by place and mode ("A4 diode"); places that nothing is known of are left out. */
export function expectedByPlace(
	book: KnownGoodBook,
	places: readonly string[],
	taken: TakenWith
): Record<string, Expected> {
	const expected: Record<string, Expected> = {};
	for (const pin of places) {
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
