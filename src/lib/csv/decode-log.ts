/** Encodings that meters' programs write. */
export type LogEncoding = 'utf-8' | 'utf-16le' | 'utf-16be' | 'windows-1252';

/** Of a text in two-byte letters nearly every second byte is nought. A choice. */
const NOUGHTS = 0.3;

/**
 * How a log's bytes are letters: by its byte-order mark, else by where its noughts are, else UTF-8 where it is that, else the
 * one-byte letters of western Europe.
 * @param head the first bytes of the log
 */
export function encodingOf(head: Uint8Array): LogEncoding {
	if (head[0] === 0xff && head[1] === 0xfe) return 'utf-16le';
	if (head[0] === 0xfe && head[1] === 0xff) return 'utf-16be';
	const noughts = (from: number) => {
		let count = 0;
		for (let i = from; i < head.length; i += 2) if (head[i] === 0) count++;
		return count / Math.max(1, head.length / 2);
	};
	if (noughts(1) > NOUGHTS) return 'utf-16le';
	if (noughts(0) > NOUGHTS) return 'utf-16be';
	try {
		// a letter that the head cuts in two is no error
		new TextDecoder('utf-8', { fatal: true }).decode(head, { stream: true });
		return 'utf-8';
	} catch {
		return 'windows-1252';
	}
}

export const decodeLog = (bytes: Uint8Array, encoding = encodingOf(bytes)): string =>
	new TextDecoder(encoding).decode(bytes);
