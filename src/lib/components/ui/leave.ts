import type { OutboxState } from './outbox.svelte';

/** Tells the other tabs of this browser that somebody signed out. */
const LEFT = 'tavrek-left';
const OUTBOXES = 'tavrek-outbox:';

/** Whether somebody signed out in this browser: nothing may be written down after that. */
let isLeaving = false;
export const hasLeft = () => isLeaving;

/**
 * What this program keeps in the browser of who signs out: nothing of it stays. Entries of somebody else whose session ran
 * out before they were sent are theirs to send or to let go.
 */
export function forgetEverything(outbox: OutboxState): void {
	isLeaving = true;
	outbox.forget();
	sessionStorage.clear();
	const foreignKeys = Object.keys(localStorage).filter((key) => !key.startsWith(OUTBOXES));
	for (const key of foreignKeys) localStorage.removeItem(key);
	localStorage.setItem(LEFT, '1');
	localStorage.removeItem(LEFT);
}

/** Other tabs of the same browser: entries that they make or send, and a sign-out there. @returns how to stop hearing */
export function hearOtherTabs(outbox: OutboxState): () => void {
	const heard = ({ key, newValue }: StorageEvent) => {
		if (key?.startsWith(OUTBOXES)) outbox.restore();
		if (key !== LEFT || newValue === null) return;
		isLeaving = true;
		sessionStorage.clear();
		location.assign('/sign-in');
	};
	window.addEventListener('storage', heard);
	return () => window.removeEventListener('storage', heard);
}
