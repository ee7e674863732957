import type { Connector } from './catalog';

/**
 * How the contacts of a connector lie to each other, from its data alone: order, sides, names, nets.
 */
type Pin = Connector['pins'][number];
export type PinPair = readonly [Pin, Pin];

/** Contacts that lie beside each other: one after the other in probing order on one side. */
export function neighbouringContacts({ pins }: Connector): PinPair[] {
	return pins.flatMap((pin, i): PinPair[] => {
		const next = pins[i + 1];
		return next && (next.side ?? '') === (pin.side ?? '') ? [[pin, next]] : [];
	});
}

const positionOf = (pin: string) => /(\d+)$/.exec(pin)?.[1] ?? null;

/** Contacts of the same number on two sides: what one becomes when the plug is turned over. */
export function mirroredContacts({ pins }: Connector): PinPair[] {
	return pins.flatMap((first, i): PinPair[] => {
		const position = positionOf(first.pin);
		if (position === null || first.side === undefined) return [];
		const second = pins
			.slice(i + 1)
			.find(({ pin, side }) => side !== undefined && side !== first.side && positionOf(pin) === position);
		return second ? [[first, second]] : [];
	});
}

/**
 * Nets that lead to like circuits and so read alike: what the connector says (`alike`), or else names that
 * differ in a last + or - alone ("d+", "d-") or in a last digit alone ("cc1", "cc2").
 */
export function partnerNets(connector: Connector): (readonly [string, string])[] {
	if (connector.alike) return connector.alike;
	const nets = [...new Set(connector.pins.map(({ net }) => net))];
	const stem = (net: string) => net.replace(/[+-]$/, '±').replace(/(?<!±)\d$/, '#');
	return nets.flatMap((first, i) =>
		nets
			.slice(i + 1)
			.filter((second) => stem(first) === stem(second) && stem(first) !== first)
			.map((second) => [first, second] as const)
	);
}
