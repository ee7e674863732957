import type { FairRatio } from '$lib/core/returns/fair-ratio';
import type { RateKind } from '$lib/core/returns/followed-jobs';

/** What rates are told apart by, in words. */
export const BY_WORDS: Record<RateKind, string> = {
	operation: 'Work',
	method: 'Method',
	part: 'Part',
	lot: 'Lot',
	source: 'Source',
	supplier: 'Supplier',
	technician: 'Technician',
	model: 'Model',
	month: 'Month'
};

/** With fewer jobs a rate says little. A choice. */
export const FEW_JOBS = 12;

export const percent = (share: number, digits = 0): string => `${(100 * share).toFixed(digits)} %`;

/** What a fair ratio says, as a mark and a word: its 80 % interval lies above one, below it, or holds it. */
export function fairWord({ low, high }: FairRatio): { mark: string; word: string; tone: string } {
	if (low > 1) return { mark: '▲', word: 'more', tone: 'text-short' };
	if (high < 1) return { mark: '▽', word: 'fewer', tone: 'text-agrees' };
	return { mark: '◇', word: 'normal', tone: 'text-ink-soft' };
}
