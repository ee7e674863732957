import type { Expected } from '$lib/core/readings/expected';

/** What the contacts of a model should read on a meter and board revision; null where the server is away. */
export async function askExpected(conditions: {
	model: string;
	meter: string;
	board: string;
}): Promise<Record<string, Expected> | null> {
	const answer = await fetch(`/known-good/expected?${new URLSearchParams(conditions)}`).catch(() => null);
	return answer?.ok ? ((await answer.json()) as Record<string, Expected>) : null;
}
