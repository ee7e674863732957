// A worker with planted faults, for tests of a lane: it loops for ever, crawls, or fails in its own way.
let asked = 0;
const sleep = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

export default async function answer({ question, stop, inFlight }) {
	const flag = new Int32Array(stop);
	asked += 1;
	switch (question.kind) {
		case 'stuck':
		case 'loop':
			for (;;);
		case 'slow':
		case 'crawl':
			for (let i = 0; i < question.steps; i++) {
				if (Atomics.load(flag, 0) === 1)
					return { error: { name: 'Stopped', message: 'stopped', code: 'TAVREK_STOPPED' } };
				await sleep(10);
			}
			return { answer: question.steps };
		case 'ahead': {
			let done = 0;
			do {
				await sleep(10);
				done += 1;
			} while (done < question.steps && Atomics.load(flag, 0) === 0);
			return { answer: done };
		}
		case 'before':
		case 'before-ahead':
			return { answer: inFlight && Atomics.load(new Int32Array(inFlight), 0) };
		case 'fail':
			return { error: { name: 'Error', message: 'connect ETIMEDOUT', code: 'ETIMEDOUT', fatal: true } };
		case 'throw':
			throw new Error('thrown');
		default:
			return { answer: asked };
	}
}
