import { describe, expect, it } from 'vitest';
import { cellLimits, packState, restedCharge } from '$lib/core/charging/cell-limits';
import { chargePlan, decayMinutes, prechargeWait, steadyMinutes } from '$lib/core/charging/charge-time';
import {
	copperFactor,
	gaugeDiameterMm,
	jumper,
	onderdonkFusingAmps,
	onderdonkSeconds,
	preeceFusingAmps,
	traceAmps,
	wireOhms,
	wiresForDrop
} from '$lib/core/charging/copper-wire';
import { ALLOYS, heatPlan, type Alloy } from '$lib/core/charging/solder-alloys';
import { advertisedCurrent, fixedContract } from '$lib/core/charging/supply-contract';

/** Within a share of the expected value. */
const near = (value: number, expected: number, share: number) =>
	expect(Math.abs(value - expected) / Math.abs(expected)).toBeLessThanOrEqual(share);

describe('copper', () => {
	// Source: IEC 60028 (resistivity and coefficient of annealed copper)
	it.each([
		[60, 1.1572],
		[80, 1.2358]
	])('at %d °C is %d times as resistive as at 20', (celsius, factor) =>
		expect(copperFactor(celsius)).toBeCloseTo(factor, 6)
	);
	// Source: ASTM B258 (diameters); resistance by rho / area, IEC 60028
	it.each([
		[24, 0.510559, 84.213],
		[26, 0.404892, 133.904],
		[28, 0.321094, 212.916],
		[30, 0.254639, 338.55],
		[34, 0.160144, 855.955],
		[36, 0.127, 1361.02],
		[40, 0.079871, 3441.07]
	])('gauge %d is %d mm thick and has %d mΩ a metre', (gauge, diameter, milliohms) => {
		near(gaugeDiameterMm(gauge), diameter, 1e-4);
		near(wireOhms({ diameterMm: gaugeDiameterMm(gauge), lengthMm: 1000 }) * 1000, milliohms, 1e-4);
	});
	// Source: Preece, Proc. Royal Society, 1884/1888; Onderdonk's formula, attributed
	it.each([
		[0.02, 548.798, 635.069, 0.22627, 0.090704, 0.028683],
		[0.05, 87.8077, 101.611, 0.89443, 0.566899, 0.179269],
		[0.1, 21.9519, 25.4028, 2.52982, 2.2676, 0.717077],
		[0.2, 5.48798, 6.35069, 7.15542, 9.07039, 2.86831]
	])('%d mm: 10 mm have %d mΩ, %d when warm; fuses at %d A', (d, cold, warm, preece, one, ten) => {
		near(wireOhms({ diameterMm: d, lengthMm: 10 }) * 1000, cold, 1e-3);
		near(wireOhms({ diameterMm: d, lengthMm: 10, celsius: 60 }) * 1000, warm, 1e-3);
		near(preeceFusingAmps(d), preece, 1e-3);
		near(onderdonkFusingAmps(d, 1), one, 1e-3);
		near(onderdonkFusingAmps(d, 10), ten, 1e-3);
	});
	it('gauge 36 by Onderdonk: 3.657 A for a second, 0.535 s at 5 A', () => {
		near(onderdonkFusingAmps(gaugeDiameterMm(36), 1), 3.65741, 1e-3);
		near(onderdonkSeconds(gaugeDiameterMm(36), 5), 0.535065, 1e-3);
	});
	// Computed from the same sources
	it.each([
		[0.1, 10, 1, 3, 20, 21.9519, 65.8558, 197.567],
		[0.1, 10, 3, 3, 60, 8.46759, 25.4028, 76.2083],
		[0.2, 15, 2, 5, 20, 4.11599, 20.5799, 102.9],
		[0.02, 5, 1, 3, 20, 274.399, 823.197, 2469.59]
	])('%d mm, %d mm long, %d wires, %d A, %d °C', (d, l, wires, amps, celsius, mohm, mv, mw) => {
		const found = jumper({ diameterMm: d, lengthMm: l, wires, amps, celsius, dropVolts: 0.025 });
		near(found.ohms * 1000, mohm, 1e-4);
		near(found.dropVolts * 1000, mv, 1e-4);
		near(found.watts * 1000, mw, 1e-4);
	});
	it.each([
		[0.1, 10, 3, 3],
		[0.1, 15, 5, 7],
		[0.05, 10, 3, 11]
	])('%d mm, %d mm, %d A within 25 mV takes %d wires', (d, l, amps, wires) =>
		expect(wiresForDrop({ diameterMm: d, lengthMm: l, amps, dropVolts: 0.025 })).toBe(wires)
	);
	it('warns where the current is over the fusing current', () => {
		const thin = { diameterMm: 0.1, lengthMm: 10, celsius: 20, dropVolts: 0.025 };
		expect(jumper({ ...thin, wires: 1, amps: 3 }).verdict).toBe('melts');
		expect(jumper({ ...thin, wires: 3, amps: 3 }).verdict).toBe('fine');
	});
	// Source: IPC-2221, formula of trace current
	it.each([
		[0.25, 35, 10, false, 0.875363],
		[0.5, 35, 10, false, 1.44689],
		[1, 35, 20, false, 3.2444],
		[1, 35, 10, true, 1.19578]
	])('trace of %d mm, %d µm, %d K', (widthMm, copperUm, riseK, inner, amps) =>
		near(traceAmps({ widthMm, copperUm, riseK, inner }), amps, 1e-3)
	);
});

describe('what a supply advertises', () => {
	it('holds its voltage within 5 %', () =>
		expect(fixedContract(9, false)).toMatchObject({
			low: expect.closeTo(8.55, 9),
			high: expect.closeTo(9.45, 9)
		}));
	// Source: USB Type-C Cable and Connector Specification, thresholds at the sink, from memory
	it.each([
		[0.05, 'none'],
		[0.41, 'default'],
		[0.64, 'default'],
		[0.7, '1.5 A'],
		[0.94, '1.5 A'],
		[1.2, '1.5 A'],
		[1.31, '3 A'],
		[1.68, '3 A'],
		[2.5, 'out-of-range']
	])('%d V on the line: %s', (volts, advertised) => expect(advertisedCurrent(volts)).toBe(advertised));
	// Source: USB Power Delivery, fixed levels, from memory
	it.each([
		[5, false, 15],
		[9, false, 27],
		[15, false, 45],
		[20, false, 60],
		[20, true, 100],
		[28, true, 140],
		[36, true, 180],
		[48, true, 240],
		[28, false, 0]
	])('%d V, marked cable %s: %d W', (level, marked, watts) =>
		expect(fixedContract(level, marked).watts).toBe(watts)
	);
});

describe('cells and charging', () => {
	it('precharge, constant current and decay', () => {
		expect(steadyMinutes(4000, 0.02, 0.4)).toBeCloseTo(12, 2);
		expect(steadyMinutes(1000, 0.6, 0.5)).toBeCloseTo(72, 2);
		expect(decayMinutes(25, 0.7, 0.05)).toBeCloseTo(65.976, 2);
	});
	// Typical values of the trade, from memory: only the order is strict
	it('more charge, more volts, in every chemistry', () => {
		for (const chemistry of ['li-ion', 'li-ion-hv', 'lifepo4', 'ni-mh']) {
			const { rested } = cellLimits(chemistry);
			expect(rested).toHaveLength(11);
			expect([...rested].sort((a, b) => a - b)).toEqual(rested);
		}
		expect(restedCharge(3.77, cellLimits('li-ion'))).toBeCloseTo(0.5, 6);
	});
	// Common practice, no source: a four-cell pack at 11.7 V is far below 16.8 V and in precharge
	it('a four-cell pack at 11.7 V is in precharge', () =>
		expect(packState(11.7, 4, 'li-ion')).toMatchObject({ state: 'precharge', fullPackVolts: 16.8 }));
	it.each([
		[0, 'cut-off'],
		[1.2, 'discard'],
		[1.8, 'watch'],
		[2.7, 'precharge'],
		[3.7, 'in-range'],
		[4.18, 'full'],
		[4.4, 'over']
	])('%d V of one cell: %s', (volts, state) => expect(packState(volts, 1, 'li-ion').state).toBe(state));
	// Common practice, no source: an empty pack takes an hour or two at 0.05 to 0.1 A
	it('the wait of an empty pack of a notebook holds an hour or two', () => {
		const wait = prechargeWait({ capacityMah: 5000, plugVolts: 5.1, plugAmps: 0.075, packVolts: 2.7 });
		expect(wait.low).toBeLessThan(60);
		expect(wait.high).toBeGreaterThan(120);
		expect(wait.usual).toBeGreaterThan(wait.low);
		expect(wait.usual).toBeLessThan(wait.high);
	});
	it('a charge plan moves the whole charge', () => {
		const plan = chargePlan({ capacityMah: 3000, fromShare: 0, amps: 1.5, flat: true });
		expect(plan.prechargeMinutes).toBeCloseTo(21, 6);
		expect(plan.totalMinutes).toBeCloseTo(
			plan.prechargeMinutes + plan.constantMinutes + plan.decayMinutes,
			9
		);
		const moved = (plan.constantMinutes / 60) * 1500 + 105 + 750;
		expect(moved).toBeCloseTo(3000, 6);
	});
});

describe('solder', () => {
	const alloy = (code: string) => ALLOYS.find((item) => item.code === code) as Alloy;
	// Source: alloy tables such as J-STD-006, from memory, within 2 K
	it.each([
		['sn42bi58', 138, 138],
		['sn63pb37', 183, 183],
		['sn60pb40', 183, 190],
		['sac305', 217, 220],
		['sn99cu1', 227, 227],
		['sn965ag35', 221, 221],
		['in52sn48', 118, 118]
	])('%s melts between %d and %d °C', (code, solidus, liquidus) => {
		expect(Math.abs(alloy(code).solidus - solidus)).toBeLessThanOrEqual(2);
		expect(Math.abs(alloy(code).liquidus - liquidus)).toBeLessThanOrEqual(2);
	});
	it('low melt brings the plan down, and bismuth with lead is warned of', () => {
		const plain = heatPlan('lift', alloy('sac305'), null, 'thin');
		const low = heatPlan('lift', alloy('sac305'), alloy('sn42bi58'), 'thin');
		expect(low.station.high).toBeLessThan(plain.station.high);
		expect(low.joint).toBeLessThan(plain.joint);
		expect(heatPlan('lift', alloy('sn63pb37'), alloy('sn42bi58'), 'usual').cautions.join(' ')).toContain(
			'96 °C'
		);
		expect(low.cautions.join(' ')).not.toContain('96 °C');
	});
});
