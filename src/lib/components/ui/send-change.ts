import type { Refusal } from '$lib/core/tickets/refusal';
import { refusalWords } from '$lib/core/tickets/refusal-words';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import { newOnce } from './once';

/**
 * Changes a ticket that is not on the screen, one change after another.
 * @returns what went wrong, or null
 */
export async function sendChanges(
	{ number, version }: { number: string; version: number },
	changes: readonly TicketChangeInput[]
): Promise<string | null> {
	let now = version;
	for (const change of changes) {
		const response = await fetch(`/tickets/${number}/change`, {
			method: 'POST',
			headers: { 'content-type': 'application/json' },
			body: JSON.stringify({ version: now, once: newOnce(), change })
		}).catch(() => null);
		if (!response?.ok) return wordsOf(number, response);
		now = ((await response.json()) as { version: number }).version;
	}
	return null;
}

async function wordsOf(number: string, response: Response | null): Promise<string> {
	if (!response) return 'the server could not be reached; try again';
	if (response.status === 409) {
		return `${number} was changed by someone else. You see it as it is now: try again.`;
	}
	const answer = (await response.json().catch(() => null)) as { refusal?: Refusal } | null;
	return answer?.refusal ? refusalWords(answer.refusal) : `the server answered ${response.status}; try again`;
}
