/** Work runs so long before others in its thread are heard. A choice. */
const SLICE_MS = 8;

/** Whether somebody asked for some work to end: it was given up, or others go first. */
export interface Stop {
	readonly asked: boolean;
	/** requests are answered meanwhile, which go before work that nobody waits for */
	readonly busy?: boolean;
}
/** Work that runs to its end. */
export const NEVER: Stop = { asked: false };

/** Thrown by work that was asked to end and keeps nothing of what it had. */
export class Stopped extends Error {
	readonly code = 'TAVREK_STOPPED';
	constructor() {
		super('stopped before its end');
	}
}

/** Work that nobody waits for stands back so long for requests, then goes on for a slice: it comes to its end in a busy shop too. A choice. */
const STANDS_BACK_MS = 160;
const LOOKS_AGAIN_MS = 5;

/** Others in this thread are heard, and requests where they go first; then throws where the work was asked to end. */
export async function aMoment(stop: Stop = NEVER): Promise<void> {
	await new Promise((resolve) => setImmediate(resolve));
	const since = performance.now();
	while (stop.busy && !stop.asked && performance.now() - since < STANDS_BACK_MS)
		await new Promise((resolve) => setTimeout(resolve, LOOKS_AGAIN_MS));
	if (stop.asked) throw new Stopped();
}

/**
 * What work in steps comes to; others are heard every few milliseconds, or as often as a step ends.
 * @throws Stopped where it is asked to end
 */
export async function inTurns<Result>(work: Generator<void, Result>, stop: Stop = NEVER): Promise<Result> {
	let slice = performance.now();
	for (;;) {
		const step = work.next();
		if (step.done) return step.value;
		if (performance.now() - slice < SLICE_MS) continue;
		await aMoment(stop);
		slice = performance.now();
	}
}
