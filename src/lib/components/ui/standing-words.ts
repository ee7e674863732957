import { STATE_WORDS } from '$lib/core/tickets/life';
import type { Standing } from '$lib/server/tickets/where';

interface Words {
	weekdayTime(at: number): string;
}

/** Where a ticket stands in one line: what it waits for and until when, who has it, what was promised. */
export function standingWords(
	{ state, waits, with: holder, promisedAt, closed, since }: Standing,
	format: Words
): string {
	const waiting = waits.map(
		({ for: waitFor, until }) => `${waitFor}${until === null ? '' : `, until ${format.weekdayTime(until)}`}`
	);
	const where = waiting.length > 0 ? `waits for ${waiting.join(' and ')}` : STATE_WORDS[state];
	const at = closed && since !== null ? `, since ${format.weekdayTime(since)}` : '';
	const holderText = !closed && holder ? `, with ${holder}` : '';
	const promise = !closed && promisedAt !== null ? `; promised ${format.weekdayTime(promisedAt)}` : '';
	return `${where}${at}${holderText}${promise}`;
}
