import { beforeRepair } from '../units/stage';
import { batteryCautions, type BatteryCaution } from './battery-cautions';
import { batteryOfLook, type Taken } from './battery-of-look';
import type { CellState } from '../units/seen-codes';
import { CELL_STATE_WORDS, packState } from './cell-limits';
import { judgeLooks, type PlugLook } from './judge-looks';
import { judgePlugIn, type PlugContext, type PlugVerdict } from './judge-plug-in';

/** All that was measured at the plug and of the battery, in the order of entry. */
export interface Measured {
	meter: readonly PlugLook[];
	battery: readonly (Taken & { volts: number; celsius?: number | undefined })[];
}

export interface CurrentFinding {
	/** a verdict for each look, in their order */
	looks: PlugVerdict[];
	/** what they say together, before a repair and after it apart */
	together: PlugVerdict[];
	/** as last measured; null where it was not */
	battery: { state: CellState; cellVolts: number; text: string } | null;
	/** what to heed whatever is drawn */
	cautions: { code: BatteryCaution; text: string }[];
}

/**
 * Judges currents and battery together.
 * @param device how the model charges and which battery it has
 */
export function judgeCurrent(
	device: Omit<PlugContext, 'batteryVolts'>,
	{ meter, battery }: Measured
): CurrentFinding {
	const contextOf = (look: Taken): PlugContext => ({
		...device,
		batteryVolts: batteryOfLook(battery, look)
	});
	const last = battery.at(-1);
	const pack = last ? batteryFinding(last.volts, device.battery) : null;
	return {
		looks: meter.map((look) => judgePlugIn(look, contextOf(look))),
		together: [true, false].flatMap((isBefore) =>
			judgeLooks(
				meter.filter(({ stage }) => beforeRepair(stage) === isBefore),
				contextOf
			)
		),
		battery: pack,
		cautions: pack ? batteryCautions(pack.state, last?.celsius) : []
	};
}

/** What a pack voltage says: its state, and the words for it. */
export function batteryFinding(packVolts: number, battery: PlugContext['battery']) {
	const { state, cellVolts } = packState(packVolts, battery?.cells ?? 1, battery?.chemistry);
	return { state, cellVolts, text: `${cellVolts.toFixed(2)} V a cell, ${CELL_STATE_WORDS[state]}` };
}
