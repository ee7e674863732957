import { mirroredContacts, neighbouringContacts, partnerNets } from '../catalog/contact-geometry';
import type { Connector } from '../catalog/catalog';
import { facingPin } from '../catalog/standard-connectors';
import type { PinVerdict } from './pin-verdict';
import { readAlike, shownBy, type NetVerdict } from './net-agreement';
import { SHORT_BELOW } from './verdict';

export const FINDING_KINDS = [
	'net-disagreement',
	'mirror-disagreement',
	'pair-disagreement',
	'ground-missing',
	'bridge'
] as const;

export interface Finding {
	kind: (typeof FINDING_KINDS)[number];
	pins: string[];
	text: string;
}

/** What the readings of one port say by themselves, with no reference or beside it. */
export function portFindings(
	connector: Connector,
	pins: readonly PinVerdict[],
	nets: readonly NetVerdict[]
): Finding[] {
	return [
		...netFindings(nets),
		...pairFindings(connector, unpowered(pins)),
		...mirrorFindings(connector, unpowered(pins)),
		...groundFindings(pins),
		...bridgeFindings(connector, unpowered(pins))
	];
}

function netFindings(nets: readonly NetVerdict[]): Finding[] {
	return nets
		.filter(({ dissenting }) => dissenting.length > 0)
		.map(({ net, dissenting }) => {
			const facing = dissenting.map((pin) => facingPin(pin)).filter((pin) => pin !== null);
			return {
				kind: 'net-disagreement',
				pins: dissenting,
				text:
					`${dissenting.join(', ')} and the rest of ${net} read apart, though the board joins them: ` +
					`look for an open joint at ${dissenting.join(', ')}` +
					(facing.length > 0 ? ` (faces ${facing.join(', ')})` : '')
			};
		});
}

const isGround = ({ net }: PinVerdict) => net === 'gnd';
/** Explained already: the references say that it reads good. */
const asExpected = ({ verdict }: PinVerdict) => verdict === 'agrees';

/** Under power like circuits may rightly differ: only unpowered readings are held against each other. */
const unpowered = (pins: readonly PinVerdict[]) => pins.filter(({ mode }) => mode !== 'volts');

/** Partner lines of one side that read apart, unless the references expect it of both. */
function pairFindings(connector: Connector, pins: readonly PinVerdict[]): Finding[] {
	return partnerNets(connector).flatMap(([first, second]) => {
		const pinsOnNet = (net: string) => pins.filter((pin) => pin.net === net);
		const apart = pinsOnNet(first).flatMap((a) =>
			pinsOnNet(second)
				.filter((b) => a.mode === b.mode && !(asExpected(a) && asExpected(b)))
				.filter((b) => !readAlike(shownBy(a), shownBy(b), a.mode))
				.map((b) => [a, b] as const)
		);
		if (apart.length === 0) return [];
		const named = [...new Set(apart.flatMap(([a, b]) => [a.pin, b.pin]))];
		const text = `${first} and ${second} lead to like circuits and read apart (${named.join(', ')}): one of the two lines is off`;
		return [{ kind: 'pair-disagreement' as const, pins: named, text }];
	});
}

/** Contacts of one number on two sides: the plug turned over sees one for the other. */
function mirrorFindings(connector: Connector, pins: readonly PinVerdict[]): Finding[] {
	const partners = partnerNets(connector);
	const isPair = (a: string, b: string) =>
		a === b || partners.some(([x, y]) => (x === a && y === b) || (x === b && y === a));
	return mirroredContacts(connector)
		.filter(([first, second]) => !isPair(first.net, second.net))
		.flatMap(([first, second]) => {
			const a = pins.find(({ pin }) => pin === first.pin);
			const b = pins.find(({ pin, mode }) => pin === second.pin && mode === a?.mode);
			if (!a || !b || (asExpected(a) && asExpected(b)) || readAlike(shownBy(a), shownBy(b), a.mode))
				return [];
			const text = `${a.pin} (${a.net}) and ${b.pin} (${b.net}) are each other's mirror and read apart: one side is off`;
			return [{ kind: 'mirror-disagreement' as const, pins: [a.pin, b.pin], text }];
		});
}

function groundFindings(pins: readonly PinVerdict[]): Finding[] {
	const lost = pins.filter(
		(pin) =>
			isGround(pin) &&
			pin.mode !== 'volts' &&
			(pin.overload || Math.abs(pin.value ?? 0) >= SHORT_BELOW[pin.mode])
	);
	if (lost.length === 0) return [];
	const names = lost.map(({ pin }) => pin);
	const text = `${names.join(', ')} should read ground and does not: check the probe first, then the joint`;
	return [{ kind: 'ground-missing', pins: names, text }];
}

/** Two joined contacts show the same number on the meter, or one apart in its last place. Common practice, no source. */
const BRIDGE_ALIKE = 0.001;
/** Known-good centres nearer than this could read alike by chance. Common practice, no source. */
const BRIDGE_APART = 0.04;

/**
 * Neighbours of different nets that read alike where they should not: the references expect them apart, or
 * there is none and the nets are neither partners nor alike in name. Overload on both says nothing.
 */
function bridgeFindings(connector: Connector, pins: readonly PinVerdict[]): Finding[] {
	const partners = new Set(partnerNets(connector).map((pair) => [...pair].sort().join(' ')));
	return neighbouringContacts(connector).flatMap(([first, second]) => {
		if (first.net === second.net || partners.has([first.net, second.net].sort().join(' '))) return [];
		const a = pins.find(({ pin }) => pin === first.pin);
		const b = pins.find(({ pin, mode }) => pin === second.pin && mode === a?.mode);
		if (!a || !b || a.overload || b.overload || (asExpected(a) && asExpected(b))) return [];
		if (Math.abs((a.value ?? 0) - (b.value ?? 0)) > BRIDGE_ALIKE + 1e-9 || !expectedApart(a, b)) return [];
		const text = `${a.pin} (${a.net}) and ${b.pin} (${b.net}) lie beside each other and read the same: look for a bridge`;
		return [{ kind: 'bridge' as const, pins: [a.pin, b.pin], text }];
	});
}

function expectedApart(a: PinVerdict, b: PinVerdict): boolean {
	if (!a.expected || !b.expected) return true;
	if (a.expected.overload || b.expected.overload) return a.expected.overload !== b.expected.overload;
	return Math.abs(a.expected.centre - b.expected.centre) > BRIDGE_APART;
}
