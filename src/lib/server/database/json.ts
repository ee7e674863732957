declare const stored: unique symbol;
/** A JSON column of a known value. The driver hands it over parsed or as text, depending on the server: read it with `asJson`. */
export interface StoredJson<Value> {
	readonly [stored]: Value;
}

/** A JSON column as its value; what was checked when it was written is trusted when it is read. */
export function asJson<Value>(column: StoredJson<Value>): Value;
export function asJson<Value>(column: StoredJson<Value> | null): Value | null;
export function asJson(column: unknown): unknown;
export function asJson(column: unknown): unknown {
	return typeof column === 'string' ? JSON.parse(column) : column;
}
