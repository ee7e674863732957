/** Sums below 2^53 hundredths are exact as numbers; anything larger is a mistake worth stopping for. */
export function exact(column: number | string | null): number {
	const value = Number(column ?? 0);
	if (!Number.isSafeInteger(value)) throw new Error(`money out of range: ${String(column)}`);
	return value;
}
