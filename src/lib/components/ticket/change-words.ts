import { codeWords } from '$lib/core/units/code';
import { formatReading } from '$lib/core/readings/typed-reading';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';

/** An entry in few words, so that who decides on it knows what it was. */
export function changeWords(change: TicketChangeInput): string {
	switch (change.verb) {
		case 'read-pins':
			return `read pins ${change.readings.map(({ pin, ...shown }) => `${pin} ${formatReading(shown)}`).join(', ')}`;
		case 'look':
			return `${change.places.join(', ')} ${change.state}`;
		case 'plug-in':
			return `plugged in ${change.volts} V ${change.amps} A`;
		case 'battery':
			return `battery ${change.volts} V`;
		case 'probe-node':
			return `${change.node} ${change.volts} V`;
		case 'observe':
			return `${change.test} ${change.outcome}`;
		case 'attempt':
			return `${change.operation}, ${change.minutes} min`;
		case 'note':
			return `note “${change.text}”`;
		default:
			return codeWords(change.verb);
	}
}
