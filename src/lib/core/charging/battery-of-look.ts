import { beforeRepair } from '../units/stage';

/** A reading, as far as it tells when it was taken. */
export interface Taken {
	stage?: string | undefined;
	/** milliseconds */
	at?: number | undefined;
}

/**
 * The pack voltage that a look at the meter is judged with: the one measured nearest in time on the same side of the
 * repair, else the latest of its stage, else the latest of that side. Null where none was measured.
 * @param battery in the order of entry, volts
 * @param look the latest of all where nothing is said of it
 */
export function batteryOfLook(
	battery: readonly (Taken & { volts: number })[],
	{ stage, at }: Taken = {}
): number | null {
	const side = battery.filter(
		(reading) => stage === undefined || beforeRepair(reading.stage) === beforeRepair(stage)
	);
	const away = (reading: Taken) =>
		at === undefined || reading.at === undefined ? Infinity : Math.abs(reading.at - at);
	const nearest = side.reduce<(typeof side)[number] | null>(
		(best, reading) => (away(reading) < (best ? away(best) : Infinity) ? reading : best),
		null
	);
	const found = nearest ?? side.findLast((reading) => reading.stage === stage) ?? side.at(-1);
	return found?.volts ?? null;
}
