import { chemistryOf, type Chemistry } from '../units/chemistry';
import type { CellState } from '../units/seen-codes';

/**
 * Limits of rechargeable cells by chemistry, volts a cell. Typical values of the trade, no source, for show and for
 * judging a reading; the cell maker's data come first.
 */
export interface CellLimits {
	label: string;
	full: number;
	nominal: number;
	/** below this a charger gives a small current first */
	precharge: number;
	/** below this only supervised, if at all */
	watch: number;
	/** below this (and above nothing) it is not charged again */
	discard: number;
	/** rested volts at 0, 10, 20 … 100 % of charge; from memory, within about 0.05 V */
	rested: readonly number[];
}

const LAYERED = [3.1, 3.48, 3.6, 3.67, 3.72, 3.77, 3.83, 3.9, 3.98, 4.06, 4.18] as const;

export const CELL_LIMITS: Record<Chemistry, CellLimits> = {
	'li-ion': {
		label: 'Lithium ion, 4.20 V',
		full: 4.2,
		nominal: 3.7,
		precharge: 3.0,
		watch: 2.0,
		discard: 1.5,
		rested: LAYERED
	},
	'li-ion-hv': {
		label: 'Lithium ion, 4.40 V',
		full: 4.4,
		nominal: 3.85,
		precharge: 3.0,
		watch: 2.0,
		discard: 1.5,
		rested: LAYERED.map((volts, i) => (i < 2 ? volts : volts * (4.38 / 4.18)))
	},
	lifepo4: {
		label: 'Lithium iron phosphate',
		full: 3.65,
		nominal: 3.2,
		precharge: 2.5,
		watch: 2.0,
		discard: 1.5,
		rested: [2.6, 3.13, 3.21, 3.24, 3.27, 3.29, 3.3, 3.31, 3.33, 3.35, 3.4]
	},
	'ni-mh': {
		label: 'Nickel metal hydride',
		full: 1.45,
		nominal: 1.2,
		precharge: 0.9,
		watch: 0.4,
		discard: 0.1,
		rested: [1.0, 1.18, 1.21, 1.23, 1.25, 1.26, 1.27, 1.28, 1.3, 1.33, 1.4]
	}
};

/** Limits of a chemistry as a catalog names it; lithium ion where the model says none. */
export const cellLimits = (chemistry: string | undefined): CellLimits =>
	CELL_LIMITS[chemistryOf(chemistry ?? 'li-ion') ?? 'li-ion'];

/** Charge of a rested cell, 0..1, linear between the points of its curve. */
export function restedCharge(cellVolts: number, { rested }: CellLimits): number {
	if (cellVolts <= (rested[0] as number)) return 0;
	for (let i = 1; i < rested.length; i++) {
		const [low, high] = [rested[i - 1] as number, rested[i] as number];
		if (cellVolts <= high) return (i - 1 + (cellVolts - low) / (high - low)) / (rested.length - 1);
	}
	return 1;
}

/** Volts a cell that say no more than nothing. A choice. */
const READS_NOTHING = 0.1;

/** What a pack's voltage says of its cells: a pack that reads nothing is cut off by its protection, or not connected. */
export function packState(packVolts: number, cells: number, chemistry: string | undefined) {
	const limits = cellLimits(chemistry);
	const cellVolts = packVolts / Math.max(1, cells);
	const state: CellState =
		cellVolts <= -READS_NOTHING
			? 'reversed'
			: cellVolts < READS_NOTHING
				? 'cut-off'
				: cellVolts < limits.discard
					? 'discard'
					: cellVolts < limits.watch
						? 'watch'
						: cellVolts < limits.precharge
							? 'precharge'
							: cellVolts > limits.full + 0.05
								? 'over'
								: cellVolts > limits.full - 0.05 || cellVolts >= (limits.rested.at(-1) as number)
									? 'full'
									: 'in-range';
	return {
		cellVolts,
		state,
		limits,
		fullPackVolts: limits.full * cells,
		charge: restedCharge(cellVolts, limits)
	};
}

export const CELL_STATE_WORDS: Record<CellState, string> = {
	reversed: 'the wrong way round: probes swapped, or a cell driven under zero; do not charge it',
	'cut-off': 'reads nothing: cut off by its protection, or not connected',
	discard: 'too low to be charged again: isolate it, take it to a collection point',
	watch: 'very low: charge only supervised and within its maker’s limits',
	precharge: 'flat: a small current at first is normal',
	'in-range': 'in its working range',
	full: 'full',
	over: 'over its full voltage: stop, do not charge it'
};
