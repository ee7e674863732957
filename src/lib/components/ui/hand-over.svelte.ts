import { readNumber } from '$lib/core/units/typed-number';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import type { Wait } from '$lib/core/tickets/ticket-entries';

/** What is being said while a ticket is handed over: on the ticket and on the floor alike. */
export class HandOverDraft {
	to = $state('');
	wait = $state('');
	minutes = $state('');
	reason = $state('');
	done = $state('');
	leftAt = $state('');

	reset(to: string | null): void {
		this.to = to ?? '';
		this.wait = this.minutes = this.reason = this.done = this.leftAt = '';
	}

	/** The wait that begins with it, if any. */
	get waiting(): TicketChangeInput[] {
		const minutes = readNumber(this.minutes);
		return this.wait
			? [{ verb: 'wait', for: this.wait as Wait, ...(minutes !== null && minutes > 0 ? { minutes } : {}) }]
			: [];
	}

	/** The hand-over itself: where hands change, or something is said. */
	moving(from: string | null): TicketChangeInput[] {
		const words = {
			...(this.reason.trim() ? { reason: this.reason } : {}),
			...(this.done.trim() ? { done: this.done } : {}),
			...(this.leftAt.trim() ? { leftAt: this.leftAt } : {})
		};
		const moved = (this.to || null) !== from;
		return moved || Object.keys(words).length > 0
			? [{ verb: 'hand-over', to: this.to || null, ...words }]
			: [];
	}
}
