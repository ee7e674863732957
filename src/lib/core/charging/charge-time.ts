import type { Interval } from '../statistics/rate-interval';

/**
 * How long charging takes. Capacities in mAh, currents in amperes into the battery, minutes. Formulas follow from
 * charge = current · time; the shares and losses are typical values of the trade, no source.
 */

/** Minutes for a share of the capacity at a steady current. */
export const steadyMinutes = (capacityMah: number, share: number, amps: number) =>
	amps <= 0 ? Infinity : ((capacityMah * share) / (amps * 1000)) * 60;

/** Minutes for a current that decays exponentially (constant voltage) from one value to another, time constant `tau`. */
export const decayMinutes = (tauMinutes: number, fromAmps: number, toAmps: number) =>
	tauMinutes * Math.log(fromAmps / toAmps);

/**
 * What an empty pack takes before its normal current, as a share of its capacity: with what chargers give at first that
 * comes to tens of minutes for a small cell, an hour or two for a notebook's pack. Common practice, no source.
 */
export const PRECHARGE_SHARE = { low: 0.015, usual: 0.035, high: 0.07 };

/** A charger that steps down gives the battery up to this share of the power that goes in. Typical, no source. */
const STEP_DOWN_EFFICIENCY = 0.9;

/**
 * Battery current behind a current at the plug, amperes: no less than what goes in (a linear charger), no more than
 * the power that goes in over the battery's voltage (a step-down one).
 */
function batteryAmps(plugVolts: number, plugAmps: number, packVolts: number): Interval {
	const powered = (STEP_DOWN_EFFICIENCY * plugVolts * plugAmps) / Math.max(packVolts, 0.5);
	return { low: Math.min(plugAmps, powered), high: Math.max(plugAmps, powered) };
}

export interface WaitEstimate extends Interval {
	usual: number;
}

/** Minutes until an empty pack takes its normal current, from what it draws now. Wide, and honest about it. */
export function prechargeWait(battery: {
	capacityMah: number;
	plugVolts: number;
	plugAmps: number;
	packVolts: number;
}): WaitEstimate {
	const amps = batteryAmps(battery.plugVolts, battery.plugAmps, battery.packVolts);
	const at = (share: number, current: number) => steadyMinutes(battery.capacityMah, share, current);
	return {
		low: at(PRECHARGE_SHARE.low, amps.high),
		usual: at(PRECHARGE_SHARE.usual, (amps.low + amps.high) / 2),
		high: at(PRECHARGE_SHARE.high, amps.low)
	};
}

export interface ChargePlan {
	prechargeMinutes: number;
	constantMinutes: number;
	decayMinutes: number;
	totalMinutes: number;
}

/** Share of charge at which constant current usually gives way to constant voltage. Typical, no source. */
export const KNEE = 0.75;
/** Charging ends at about this share of the capacity in an hour. Typical (C/20), no source. */
export const END_RATE = 0.05;

/**
 * A whole charge: precharge at C/10 while empty, constant current up to the knee, then an exponential decay whose time
 * constant moves the charge that is left.
 */
export function chargePlan(battery: {
	capacityMah: number;
	fromShare: number;
	amps: number;
	/** under its precharge voltage */
	flat: boolean;
}): ChargePlan {
	const { capacityMah, amps } = battery;
	const precharged = battery.flat ? PRECHARGE_SHARE.usual : 0;
	const prechargeMinutes = steadyMinutes(capacityMah, precharged, (0.1 * capacityMah) / 1000);
	const start = Math.max(battery.fromShare, precharged);
	const constantMinutes = steadyMinutes(capacityMah, Math.max(0, KNEE - start), amps);
	const endAmps = Math.min(amps, (END_RATE * capacityMah) / 1000);
	const leftMah = capacityMah * (1 - Math.max(KNEE, start));
	const tau = amps > endAmps ? (leftMah / ((amps - endAmps) * 1000)) * 60 : 0;
	const decay =
		tau > 0 ? decayMinutes(tau, amps, endAmps) : steadyMinutes(capacityMah, leftMah / capacityMah, amps);
	return {
		prechargeMinutes,
		constantMinutes,
		decayMinutes: decay,
		totalMinutes: prechargeMinutes + constantMinutes + decay
	};
}
