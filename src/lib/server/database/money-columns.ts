import type { Row } from './tables';

export const MONEY_COLUMNS = ['paid_minor', 'tax_minor', 'parts_minor', 'labour_minor'] as const;
/** Columns of a ticket that hold money, as the driver gives them. */
export type MoneyColumns = Pick<Row<'tickets'>, (typeof MONEY_COLUMNS)[number]>;

export const moneyOf = (row: MoneyColumns) => ({
	paidMinor: exact(row.paid_minor),
	taxMinor: exact(row.tax_minor),
	partsMinor: exact(row.parts_minor),
	labourMinor: exact(row.labour_minor)
});

/** Sums below 2^53 hundredths are exact as numbers; anything larger is a mistake worth stopping for. */
export function exact(column: number | string | null): number {
	const value = Number(column ?? 0);
	if (!Number.isSafeInteger(value)) throw new Error(`money out of range: ${String(column)}`);
	return value;
}
