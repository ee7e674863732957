/** How many requests this process answers now: one number that its worker threads read too. */
const counted = new SharedArrayBuffer(4);
const count = new Int32Array(counted);

/** For the threads beside: work that nobody waits for lets requests go first. */
export const requestsInFlight: SharedArrayBuffer = counted;

/** Counts a request for as long as it is answered; what streams after its answer stands is not counted. */
export async function whileInFlight<Answer>(answer: () => Promise<Answer>): Promise<Answer> {
	Atomics.add(count, 0, 1);
	try {
		return await answer();
	} finally {
		Atomics.sub(count, 0, 1);
	}
}
