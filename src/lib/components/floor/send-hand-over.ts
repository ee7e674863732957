import type { Tag } from '$lib/server/floor/queries';
import { newOnce } from '../ui/once';

/** Hands a ticket over from the floor. @returns what went wrong, or null */
export async function sendHandOver(
	tag: Tag,
	to: string | null,
	waitingFor: string | null
): Promise<string | null> {
	const change = { verb: 'hand-over', to, waitingFor };
	const response = await fetch(`/tickets/${tag.number}/change`, {
		method: 'POST',
		headers: { 'content-type': 'application/json' },
		body: JSON.stringify({ version: tag.version, once: newOnce(), change })
	}).catch(() => null);
	if (response?.ok) return null;
	if (response?.status === 409)
		return `${tag.number} was changed by somebody meanwhile; the floor shows it now, try again`;
	return response
		? `the server answered ${response.status}; try again`
		: 'the server could not be reached; try again';
}
