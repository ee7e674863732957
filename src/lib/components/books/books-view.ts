import type { MeanProfit } from '$lib/core/ledger/book-figures';

/** One row of the table of what pays. */
export interface PayRow {
	key: string;
	label: string;
	tickets: number;
	minutes: number;
	paidMinor: number;
	costMinor: number;
	profitMinor: number;
	perHour: number | null;
	mean: MeanProfit;
	quoted: {
		jobs: number;
		quotedMinor: number;
		costMinor: number;
		overran: number;
		breakEvenMinor: number | null;
		share: { low: number; high: number };
	};
}

/** What the rows are by, in the words of the switch. */
export const BY_WORDS = {
	model: 'model',
	operation: 'operation',
	technician: 'technician',
	outcome: 'outcome',
	kind: 'kind of customer',
	customer: 'customer'
} as const;
export type By = keyof typeof BY_WORDS;

/** The same above their column. */
export const HEADS: Record<By, string> = {
	model: 'Model',
	operation: 'Operation that worked',
	technician: 'Technician',
	outcome: 'Outcome',
	kind: 'Kind',
	customer: 'Customer'
};
