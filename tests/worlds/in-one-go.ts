/** What work in steps comes to, with nobody else heard between them. */
export function inOneGo<Result>(work: Generator<void, Result>): Result {
	for (;;) {
		const step = work.next();
		if (step.done) return step.value;
	}
}
