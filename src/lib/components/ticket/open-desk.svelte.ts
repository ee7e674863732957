import { untrack } from 'svelte';
import { invalidateAll } from '$app/navigation';
import type { Role } from '$lib/core/units/role';
import type { TicketView } from '$lib/server/tickets/view';
import { useOutbox } from '../ui/outbox.svelte';
import { provideDesk, TicketDesk } from './desk.svelte';

/** The desk of a page that shows a ticket: it follows what the page loads and what the server answers. While the page is made. */
export function openDesk(view: () => TicketView, role: Role): TicketDesk {
	const desk = provideDesk(new TicketDesk(untrack(view), useOutbox(), role, () => void invalidateAll()));
	$effect.pre(() => {
		desk.view = view();
	});
	$effect(() => {
		if (view().ticket.number) return untrack(() => desk.follow());
	});
	return desk;
}
