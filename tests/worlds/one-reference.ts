import type { ReferenceRecord } from '$lib/core/readings/reference';

/** A known-good reading of one contact, verified: what the tests of verdicts begin with. */
export const reference = (value: number | 'OL', more: Partial<ReferenceRecord> = {}): ReferenceRecord => ({
	record: 'reference',
	model: 'm',
	pin: 'A4',
	mode: 'diode',
	...(value === 'OL' ? { overload: true } : { value }),
	grade: 'verified',
	...more
});
