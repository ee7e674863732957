/** A mark that makes a form count once however often it is sent: a version 4 UUID. */
export function newOnce(): string {
	// not crypto.randomUUID(): that is missing where a shop opens the server by address without TLS
	const bytes = crypto.getRandomValues(new Uint8Array(16));
	bytes[6] = ((bytes[6] as number) & 0x0f) | 0x40;
	bytes[8] = ((bytes[8] as number) & 0x3f) | 0x80;
	const hex = [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('');
	return [8, 12, 16, 20, 32].map((end, i, ends) => hex.slice(i ? ends[i - 1] : 0, end)).join('-');
}
