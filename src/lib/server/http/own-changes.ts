/** When each person last sent something that was kept: what they look at next is to show it. A hint of this process, bounded. */
const lastSent = new Map<string, number>();
const MOST_PEOPLE = 500;

export function noteSent(who: string, at: number): void {
	lastSent.delete(who);
	lastSent.set(who, at);
	for (const first of lastSent.keys()) if (lastSent.size > MOST_PEOPLE) lastSent.delete(first);
}

/** 0 where they sent nothing, or long ago. */
export const lastSentBy = (who: string): number => lastSent.get(who) ?? 0;
