/** A body that grew beyond what its route takes. */
export class TooLarge extends Error {
	constructor(readonly maxBytes: number) {
		super(`the body has more than ${maxBytes} bytes`);
	}
}

/** Bytes in words: "8 kB", "64 MB". */
export const bytesWords = (bytes: number) =>
	bytes < 1024 * 1024 ? `${Math.round(bytes / 1024)} kB` : `${Math.round(bytes / (1024 * 1024))} MB`;

/** The stream again, ended with an error once it grows beyond a limit: a length that a sender states is not believed. */
export function counted(body: ReadableStream<Uint8Array>, maxBytes: number): ReadableStream<Uint8Array> {
	let bytes = 0;
	return body.pipeThrough(
		new TransformStream<Uint8Array, Uint8Array>({
			transform(chunk, controller) {
				bytes += chunk.byteLength;
				if (bytes > maxBytes) controller.error(new TooLarge(maxBytes));
				else controller.enqueue(chunk);
			}
		})
	);
}

const DRAINED_AT_MOST = 64 * 1024 * 1024;
const DRAINED_MS = 5000;

/**
 * Throws away what still comes of a body that is refused, unread and up to a limit: who sends it gets the refusal then, and
 * not a line that is cut.
 */
export async function drained(body: ReadableStream<Uint8Array> | null): Promise<void> {
	if (!body || body.locked) return;
	const until = Date.now() + DRAINED_MS;
	try {
		const reader = body.getReader();
		for (let bytes = 0; bytes < DRAINED_AT_MOST && Date.now() < until;) {
			const { done: finished, value } = await reader.read();
			if (finished) return;
			bytes += value.byteLength;
		}
		reader.releaseLock();
	} catch {
		// gone already
	}
}

/** A whole body, counted as it comes. Throws TooLarge. */
export async function readWhole(
	body: ReadableStream<Uint8Array>,
	maxBytes: number
): Promise<Uint8Array<ArrayBuffer>> {
	const chunks: Uint8Array[] = [];
	let bytes = 0;
	const reader = body.getReader();
	for (;;) {
		const { done: finished, value } = await reader.read();
		if (finished) break;
		bytes += value.byteLength;
		if (bytes > maxBytes) {
			reader.releaseLock();
			throw new TooLarge(maxBytes);
		}
		chunks.push(value);
	}
	const whole = new Uint8Array(bytes);
	let at = 0;
	for (const chunk of chunks) {
		whole.set(chunk, at);
		at += chunk.byteLength;
	}
	return whole;
}
