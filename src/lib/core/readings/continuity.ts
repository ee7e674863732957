import { neighbouringContacts } from '../catalog/contact-geometry';
import type { Connector } from '../catalog/catalog';

/** One probing of two contacts: whether the board joins them. */
export interface ContinuityPair {
	pins: readonly [string, string];
	nets: readonly [string, string];
	connected: boolean;
}

/**
 * Which pairs of contacts must and must not connect, from the nets alone. `all` is every pair; `probes` the
 * shortest list that proves the same: a chain along each net, then one contact of each net against each other net,
 * and every pair of neighbours, since a bridge of solder lies between neighbours.
 */
export function continuityMatrix(connector: Connector): { all: ContinuityPair[]; probes: ContinuityPair[] } {
	const { pins } = connector;
	const pair = (a: (typeof pins)[number], b: (typeof pins)[number]): ContinuityPair => ({
		pins: [a.pin, b.pin],
		nets: [a.net, b.net],
		connected: a.net === b.net
	});
	const all = pins.flatMap((a, i) => pins.slice(i + 1).map((b) => pair(a, b)));
	const chains = pins.flatMap((a, i) => {
		const next = pins.slice(i + 1).find(({ net }) => net === a.net);
		return next ? [pair(a, next)] : [];
	});
	const heads = pins.filter((a, i) => pins.findIndex(({ net }) => net === a.net) === i);
	const apart = heads.flatMap((a, i) => heads.slice(i + 1).map((b) => pair(a, b)));
	const neighbours = neighbouringContacts(connector)
		.map(([a, b]) => pair(a, b))
		.filter(({ connected }) => !connected);
	const probes = [...chains, ...neighbours, ...apart];
	const key = ({ pins: [a, b] }: ContinuityPair) => [a, b].sort().join(' ');
	return { all, probes: [...new Map(probes.map((item) => [key(item), item])).values()] };
}

/** What is wrong with a pair that was found otherwise than it must be, in words. */
export function continuityWords({ pins, nets, connected }: ContinuityPair): string {
	const [a, b] = pins;
	return connected
		? `${a} and ${b} must connect (${nets[0]}) and do not: an open joint at one of them`
		: `${a} (${nets[0]}) and ${b} (${nets[1]}) must not connect and do: a bridge`;
}
