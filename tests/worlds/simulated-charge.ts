import type { Trace } from '$lib/core/charging/trace-phases';
import { drawNormal, type Random } from '$lib/core/units/random';

/** A whole charge at the plug, with the truth of its phases, for checking what a log's reader makes of it. */
export interface SimulatedCharge {
	trace: Trace;
	/** seconds at which each part begins */
	begins: {
		idle: number;
		handshake: number;
		precharge: number | null;
		constant: number;
		taper: number;
		done: number;
	};
	chargeMah: number;
}

/**
 * Supply at 5.1 V behind some resistance; nothing for a while, a handshake, precharge where the battery is flat,
 * constant current, an exponential decay, the end.
 */
export function simulateCharge(
	random: Random,
	charge: {
		amps: number;
		flat: boolean;
		/** seconds of constant current and of precharge */
		constantSeconds: number;
		prechargeSeconds?: number;
		tauSeconds: number;
		stepSeconds: number;
		doneSeconds?: number;
		noiseAmps?: number;
		pathOhms?: number;
		/** the contact opens for this long, seconds after the constant current began */
		dropout?: { at: number; seconds: number };
	}
): SimulatedCharge {
	const { amps, flat, tauSeconds, stepSeconds, noiseAmps = 0.004, pathOhms = 0.12, dropout } = charge;
	const handshake = 20;
	const precharge = flat ? handshake + 3 : null;
	const constant = handshake + 3 + (flat ? (charge.prechargeSeconds ?? 600) : 0);
	const taper = constant + charge.constantSeconds;
	const done = taper + tauSeconds * Math.log(1 / 0.05);
	const end = done + (charge.doneSeconds ?? 120);
	const truth = (t: number): number => {
		if (t < handshake) return 0;
		if (t < handshake + 3) return 0.1 * amps + 0.03;
		if (t < constant) return 0.06;
		if (dropout && t >= constant + dropout.at && t < constant + dropout.at + dropout.seconds) return 0;
		if (t < taper) return amps;
		return t < done ? amps * Math.exp(-(t - taper) / tauSeconds) : 0.001;
	};
	const n = Math.floor(end / stepSeconds) + 1;
	const trace: Trace = {
		seconds: new Float64Array(n),
		volts: new Float64Array(n),
		amps: new Float64Array(n)
	};
	let chargeMah = 0;
	for (let i = 0; i < n; i++) {
		const t = i * stepSeconds;
		const a = truth(t);
		chargeMah += (a * stepSeconds) / 3.6;
		trace.seconds[i] = Math.round(t * 1000) / 1000;
		trace.amps[i] = Math.max(0, a + noiseAmps * drawNormal(random));
		trace.volts[i] = 5.1 - pathOhms * a + 0.003 * drawNormal(random);
	}
	return { trace, begins: { idle: 0, handshake, precharge, constant, taper, done }, chargeMah };
}
