/** A JSON column as a value: the driver hands it over parsed or as text, depending on the server. */
export function asJson(column: unknown): unknown {
	return typeof column === 'string' ? JSON.parse(column) : column;
}
