import type { Connector } from './catalog';

/**
 * Contact assignments of public connector standards, in probing order.
 * Source: USB Type-C Cable and Connector Specification (receptacle, front view) and USB 2.0 Micro-USB
 * Cables and Connectors Specification, quoted from memory.
 */
const TYPE_C_A = 'gnd tx1+ tx1- vbus cc1 d+ d- sbu1 vbus rx2- rx2+ gnd'.split(' ');
const TYPE_C_B = 'gnd tx2+ tx2- vbus cc2 d+ d- sbu2 vbus rx1- rx1+ gnd'.split(' ');
const USB2_POSITIONS = new Set([1, 4, 5, 6, 7, 8, 9, 12]);

const typeCRow = (side: 'a' | 'b', nets: string[]) =>
	nets.map((net, index) => ({ pin: `${side.toUpperCase()}${index + 1}`, net, side }));

/** Row A from left to right, then row B as it lies below it: B12 under A1, mirrored. */
const typeCPins = [...typeCRow('a', TYPE_C_A), ...typeCRow('b', TYPE_C_B).reverse()];

export const STANDARD_CONNECTORS: readonly Connector[] = [
	{ record: 'connector', code: 'type-c-24', label: 'Type-C receptacle, 24 contacts', pins: typeCPins },
	{
		record: 'connector',
		code: 'type-c-16',
		label: 'Type-C receptacle, USB 2.0 only, 16 contacts',
		pins: typeCPins.filter(({ pin }) => USB2_POSITIONS.has(Number(pin.slice(1))))
	},
	{
		record: 'connector',
		code: 'micro-b',
		label: 'Micro-B receptacle, 5 contacts',
		pins: ['vbus', 'd-', 'd+', 'id', 'gnd'].map((net, index) => ({ pin: String(index + 1), net }))
	}
];

/** The contact that faces Ax of a Type-C receptacle is B(13-x). Null for other names. */
export function facingPin(pin: string): string | null {
	const match = /^([AB])(\d{1,2})$/.exec(pin);
	if (!match) return null;
	const position = Number(match[2]);
	if (position < 1 || position > 12) return null;
	return `${match[1] === 'A' ? 'B' : 'A'}${13 - position}`;
}
