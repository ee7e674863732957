/** What work in steps comes to, with nobody else heard between them. */
export function inOneGo<Result>(work: Generator<void, Result>): Result {
	for (;;) {
		const step = work.next();
		if (step.done) return step.value;
	}
}

/** What each item comes to; others may be heard between two of them. */
export function* mapInSteps<Item, Result>(
	items: readonly Item[],
	work: (item: Item, index: number) => Result
): Generator<void, Result[]> {
	const results: Result[] = [];
	for (const [index, item] of items.entries()) {
		results.push(work(item, index));
		yield;
	}
	return results;
}
