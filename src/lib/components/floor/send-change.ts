import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import type { Tag } from '$lib/server/floor/queries';
import { newOnce } from '../ui/once';

/**
 * Changes a ticket from the floor, one change after another.
 * @returns what went wrong, or null
 */
export async function sendChanges(
	{ number, version }: Pick<Tag, 'number' | 'version'>,
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
		return `${number} was changed by somebody meanwhile; the floor shows it now, try again`;
	}
	const said = (await response.json().catch(() => null)) as { refusal?: { message: string } } | null;
	return said?.refusal?.message ?? `the server answered ${response.status}; try again`;
}
