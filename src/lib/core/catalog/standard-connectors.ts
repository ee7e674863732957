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

/** USB 2.0 Micro-B and Mini-B alike: VBUS, D-, D+, ID, ground. */
const FIVE_IN_A_ROW = ['vbus', 'd-', 'd+', 'id', 'gnd'].map((net, index) => ({
	pin: String(index + 1),
	net
}));

/** An invented example: both sides carry the same nets in the same order as the plug is turned. */
const EIGHT_NETS = ['gnd', 'd+', 'd-', 'id', 'supply', 'data', 'sense', 'gnd'];
const EIGHT_A_SIDE = ['l', 'r'].flatMap((side) =>
	EIGHT_NETS.map((net, index) => ({ pin: `${side.toUpperCase()}${index + 1}`, net, side }))
);

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
		pins: FIVE_IN_A_ROW
	},
	{ record: 'connector', code: 'mini-b', label: 'Mini-B receptacle, 5 contacts', pins: FIVE_IN_A_ROW },
	{
		record: 'connector',
		code: 'barrel',
		label: 'Barrel jack, centre and sleeve',
		pins: [
			{ pin: 'centre', net: 'supply' },
			{ pin: 'sleeve', net: 'gnd' }
		]
	},
	{
		record: 'connector',
		code: 'dock-2',
		label: 'Dock, two pads',
		pins: [
			{ pin: '1', net: 'supply' },
			{ pin: '2', net: 'gnd' }
		]
	},
	{
		record: 'connector',
		code: 'dock-4',
		label: 'Dock, four pads',
		pins: ['supply', 'data', 'sense', 'gnd'].map((net, index) => ({ pin: String(index + 1), net }))
	},
	{
		record: 'connector',
		code: 'reversible-8',
		label: 'Reversible plug, eight contacts a side (generic example)',
		pins: EIGHT_A_SIDE
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
