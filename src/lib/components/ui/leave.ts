import type { OutboxState } from './outbox.svelte';

/** Whether somebody signed out in this browser: nothing may be written down after that. */
let left = false;
export const hasLeft = () => left;

/** What this program keeps in the browser: nothing of it stays after sign-out. */
export function forgetEverything(outbox: OutboxState): void {
	left = true;
	outbox.forget();
	sessionStorage.clear();
	localStorage.clear();
}

/** Other tabs of the same browser: entries that they make or send, and a sign-out there. @returns how to stop hearing */
export function hearOtherTabs(outbox: OutboxState): () => void {
	const heard = ({ key }: StorageEvent) => {
		if (key?.startsWith('tavrek-outbox:')) outbox.restore();
		if (key !== null) return;
		left = true;
		sessionStorage.clear();
		location.assign('/sign-in');
	};
	window.addEventListener('storage', heard);
	return () => window.removeEventListener('storage', heard);
}
