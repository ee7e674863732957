/** Work runs so long before others in its thread are heard. A choice. */
const SLICE_MS = 8;

/** What work in steps comes to; others are heard every few milliseconds, or as often as a step ends. */
export async function inTurns<Result>(work: Generator<void, Result>): Promise<Result> {
	let slice = performance.now();
	for (;;) {
		const step = work.next();
		if (step.done) return step.value;
		if (performance.now() - slice < SLICE_MS) continue;
		await new Promise((resolve) => setImmediate(resolve));
		slice = performance.now();
	}
}
