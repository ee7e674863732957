import type { Ticket } from '../tickets/ticket-record';
import type { Wait } from '../tickets/ticket-entries';
import { DAY_MS, MINUTE_MS, type Instant } from '../units/instant';
import { drawOne, type Random } from '../units/random';

/** What the demo shop's open tickets show of the bench: waits that end, how a device came in, who has it next. */

const LEFT_WITH = ['charger and cable', 'card tray', 'pouch', 'two seal rings', 'wrist strap'];
const ON_ARRIVAL = [
	'two screws missing',
	'scratch across the back, seal ring dry',
	'lid lifted at one corner: somebody was inside',
	'sand in the port',
	'label worn off'
];
/** Waits that run while the demo is looked at: minutes from its last moment. */
const ENDS_AFTER: Partial<Record<Wait, readonly [from: number, to: number]>> = {
	cure: [70, 75],
	charge: [80, 140],
	soak: [75, 130]
};
const NOTES: Partial<Record<Wait, string>> = {
	cure: 'Mask under the lamp',
	charge: 'Precharge, watched',
	soak: 'An hour of use'
};

/** A promise is for a day on which the shop is open: one for a Sunday is for the Monday. */
export const onOpenDay = (at: Instant): Instant => (new Date(at).getUTCDay() === 0 ? at + DAY_MS : at);

/** An open ticket with what the bench knows of it; a closed one as it is. */
export function dressedForTheBench(ticket: Ticket, random: Random, endsAt: Instant): Ticket {
	if (ticket.closedAt !== null) return ticket;
	const dressed = { ...ticket };
	if (random() < 0.5) dressed.accessories = drawOne(random, LEFT_WITH);
	if (random() < 0.5) dressed.condition = drawOne(random, ON_ARRIVAL);
	dressed.waits = ticket.waits.map((wait) => {
		const [from, to] = ENDS_AFTER[wait.for] ?? [];
		if (from === undefined || to === undefined) return wait;
		const minutes = Math.round(from + random() * (to - from));
		const note = NOTES[wait.for];
		return { ...wait, ...(note ? { note } : {}), until: endsAt + minutes * MINUTE_MS };
	});
	return dressed;
}

/** Half done at the shop's last moment: on a bench, or waiting for somebody or something. */
export function leaveHalfDone(random: Random, ticket: Ticket): void {
	const waits = [null, null, null, 'part', 'charge', 'soak', 'cure'] as const;
	const wait = drawOne(random, waits);
	ticket.waits = wait === null ? [] : [{ for: wait }];
}
