/**
 * What a supply says that it allows. Source of currents, windows and levels: USB Type-C Cable and Connector
 * Specification, USB 2.0, USB 3.2, Battery Charging 1.2 and USB Power Delivery, all from memory.
 */
export type Advertised = 'none' | 'default' | '1.5 A' | '3 A' | 'out-of-range';

/** Thresholds at a sink's configuration line (5.1 kΩ to ground), volts: the gaps between windows are decided here. */
const THRESHOLDS: readonly (readonly [number, Advertised])[] = [
	[0.2, 'none'],
	[0.66, 'default'],
	[1.23, '1.5 A'],
	[2.04, '3 A']
];

/** Reads the voltage on a sink's configuration line. */
export const advertisedCurrent = (ccVolts: number): Advertised =>
	THRESHOLDS.find(([below]) => ccVolts < below || (below === 2.04 && ccVolts <= below))?.[1] ??
	'out-of-range';

export const ADVERTISED_WORDS: Record<Advertised, string> = {
	none: 'nothing attached, or this line is broken',
	default: 'the standard’s default: 0.5 A (USB 2.0) or 0.9 A (USB 3)',
	'1.5 A': '1.5 A at 5 V',
	'3 A': '3 A at 5 V',
	'out-of-range': 'outside what the standard allows: check for a short to VBUS'
};

/** Fixed levels of Power Delivery, volts; from 28 V on with an extended-range cable. */
export const FIXED_LEVELS = [5, 9, 15, 20, 28, 36, 48] as const;

export interface Contract {
	level: number;
	amps: number;
	watts: number;
	/** volts that the source holds itself to: 5 % either way */
	low: number;
	high: number;
	/** over 3 A needs a cable that says so itself */
	marked: boolean;
}

/** A fixed level with the most current that its cable allows. */
export function fixedContract(level: number, markedCable: boolean): Contract {
	const extended = level > 20;
	const amps = extended || markedCable ? 5 : 3;
	const usable = extended && !markedCable ? 0 : amps;
	return {
		level,
		amps: usable,
		watts: level * usable,
		low: level * 0.95,
		high: level * 1.05,
		marked: markedCable
	};
}
