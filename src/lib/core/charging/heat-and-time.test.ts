import { describe, expect, it } from 'vitest';
import { chargePlan, END_RATE, KNEE, PRECHARGE_SHARE, prechargeWait, steadyMinutes } from './charge-time';
import { heatPlan, type Alloy, type BoardMass, type HeatJob } from './solder-alloys';

describe('a heat plan', () => {
	const board: Alloy = { code: 'b', label: 'B', solidus: 217, liquidus: 220, use: '' };
	const low: Alloy = { code: 'l', label: 'L', solidus: 138, liquidus: 138, use: '', bismuth: true };
	const leaded: Alloy = { code: 'p', label: 'P', solidus: 183, liquidus: 190, use: '', lead: true };
	const plan = (job: HeatJob, added: Alloy | null = null, mass: BoardMass = 'usual', on = board) =>
		heatPlan(job, on, added, mass);

	it('the joint is brought 25 K over what melts last; with low melt, over the middle of both', () => {
		expect(plan('lift').joint).toBe(245);
		expect(plan('lift', low).joint).toBe((138 + 220) / 2 + 25);
		// to lift, what melts higher than the board does not raise it; to place, it must melt too
		expect(plan('lift', { ...leaded, solidus: 230, liquidus: 240 }).joint).toBe(245);
		expect(plan('place', { ...leaded, solidus: 230, liquidus: 240 }).joint).toBe(265);
		expect(plan('place', low).joint).toBe(245);
		expect(plan('wire', leaded).joint).toBe(245);
	});
	it('low melt counts only under the board’s solidus, and only to lift', () => {
		const at = (liquidus: number) => plan('lift', { ...low, liquidus });
		expect(at(216).station.low).toBe(plan('lift').station.low - 30);
		expect(at(217).station.low).toBe(plan('lift').station.low);
		expect(plan('place', low).station).toEqual(plan('place').station);
		const brittle = 'Wick the low melt away before placing: it is brittle in a joint.';
		expect(plan('lift', low).cautions).toContain(brittle);
		expect(plan('lift').cautions).not.toContain(brittle);
		expect(plan('lift', low).steps).toContain('Flow low melt over every joint');
		expect(plan('lift').steps).not.toContain('Flow low melt over every joint');
	});
	it('a heavy board takes 30 K more at the station, a thin one 20 K less', () => {
		for (const job of ['lift', 'place', 'wire'] as const) {
			const usual = plan(job).station;
			expect(plan(job, null, 'heavy').station).toEqual({ low: usual.low + 30, high: usual.high + 30 });
			expect(plan(job, null, 'thin').station).toEqual({ low: usual.low - 20, high: usual.high - 20 });
		}
		expect(plan('lift')).toMatchObject({
			preheat: { low: 100, high: 150 },
			minutes: { low: 3, high: 4 },
			coolMinutes: { low: 10, high: 15 }
		});
	});
	it('bismuth and lead together are warned of, either way round, one alone is not', () => {
		const warned = (on: Alloy, added: Alloy | null) =>
			plan('place', added, 'usual', on).cautions.some((text) => text.includes('96 °C'));
		expect(warned(leaded, low)).toBe(true);
		expect(warned(low, leaded)).toBe(true);
		expect(warned(low, low)).toBe(false);
		expect(warned(leaded, leaded)).toBe(false);
		expect(warned(leaded, null)).toBe(false);
		expect(warned(board, low)).toBe(false);
		expect(plan('wire').cautions).toEqual([
			'Battery out of the circuit before heat. Extraction on.',
			'Alcohol only on a cold board: its vapour burns from 12 °C on.',
			'These are starting points of the trade, no limits: the part maker’s profile comes first.'
		]);
	});
	it('steps in their order, by job', () => {
		const warm = [
			'Shield plastics',
			'Flux',
			'Preheat from below until warm through',
			'Let the station settle 30 s'
		];
		expect(plan('wire').steps).toEqual([
			'Tin the pad and the wire',
			'Touch, let it flow, hold still',
			'Secure with mask and cure about 10 min'
		]);
		expect(plan('place').steps).toEqual([
			...warm,
			'Anchors first, then the contacts',
			'Look every 5 to 10 s; let it cool by itself'
		]);
		expect(plan('lift', low).steps).toEqual([
			...warm,
			'Flow low melt over every joint',
			'Lift when it falls by itself, never pull: pads are torn here'
		]);
	});
});

describe('how long a charge takes', () => {
	const battery = { capacityMah: 4000, fromShare: 0.2, amps: 2, flat: false };
	/** The same law walked through second by second: charge moved by a current that decays until it is done. */
	function walked({ capacityMah, fromShare, amps }: typeof battery) {
		const end = (END_RATE * capacityMah) / 1000;
		let [mah, seconds] = [Math.max(fromShare, 0) * capacityMah, 0];
		for (; mah < KNEE * capacityMah; seconds++) mah += (amps * 1000) / 3600;
		const constant = seconds / 60;
		// in the decay the current falls with the charge that is left, from all of it to the end current
		const knee = mah;
		for (; ; seconds++) {
			const current = amps - ((amps - end) * (mah - knee)) / (capacityMah - knee);
			if (current <= end * 1.0005) break;
			mah += (current * 1000) / 3600;
		}
		return { constant, decay: seconds / 60 - constant };
	}
	it('constant current to the knee, then a decay that moves what is left: as walked second by second', () => {
		for (const from of [0.2, 0.5]) {
			const plan = chargePlan({ ...battery, fromShare: from });
			const { constant } = walked({ ...battery, fromShare: from });
			expect(plan.prechargeMinutes).toBe(0);
			expect(plan.constantMinutes).toBeCloseTo(constant, 0);
			// 1000 mAh from 2 A down to 0.2 A: time constant 1/1.8 h, and ln 10 of those
			expect(plan.decayMinutes).toBeCloseTo((60 / 1.8) * Math.log(10), 9);
			expect(plan.totalMinutes).toBeCloseTo(plan.constantMinutes + plan.decayMinutes, 12);
		}
		const { decay } = walked(battery);
		expect(Math.abs(chargePlan(battery).decayMinutes / decay - 1)).toBeLessThan(0.01);
	});
	it('over the knee nothing is constant, and only what is left is moved', () => {
		const plan = chargePlan({ ...battery, fromShare: 0.9 });
		expect(plan.constantMinutes).toBe(0);
		expect(plan.decayMinutes).toBeCloseTo((60 * 0.4 * Math.log(10)) / 1.8, 9);
	});
	it('a current no larger than the end current moves the rest steadily', () => {
		const plan = chargePlan({ ...battery, amps: 0.2 });
		expect(plan.decayMinutes).toBeCloseTo((1000 / 200) * 60, 9);
		expect(chargePlan({ ...battery, amps: 0.1 }).decayMinutes).toBeCloseTo((1000 / 100) * 60, 9);
		expect(chargePlan({ ...battery, amps: 0.201 }).decayMinutes).toBeLessThan(plan.decayMinutes);
	});
	it('a flat pack is precharged at a tenth of its capacity first', () => {
		const plan = chargePlan({ ...battery, fromShare: 0, flat: true });
		expect(plan.prechargeMinutes).toBeCloseTo((PRECHARGE_SHARE.usual / 0.1) * 60, 9);
		expect(plan.constantMinutes).toBeCloseTo(((KNEE - PRECHARGE_SHARE.usual) * 4000 * 60) / 2000, 9);
	});
	it('no current takes for ever', () => {
		expect(steadyMinutes(4000, 0.5, 0)).toBe(Infinity);
		expect(steadyMinutes(4000, 0.5, -1)).toBe(Infinity);
		expect(steadyMinutes(4000, 0.5, 1)).toBe(120);
	});
	it('the wait lies between a linear charger’s and a step-down one’s, the usual by the middle current', () => {
		// 5 V at 0.1 A into 2.5 V: between 0.1 A and 0.9 · 5 · 0.1 / 2.5 = 0.18 A
		const wait = prechargeWait({ capacityMah: 3000, plugVolts: 5, plugAmps: 0.1, packVolts: 2.5 });
		expect(wait.low).toBeCloseTo((3000 * PRECHARGE_SHARE.low * 60) / 180, 9);
		expect(wait.usual).toBeCloseTo((3000 * PRECHARGE_SHARE.usual * 60) / 140, 9);
		expect(wait.high).toBeCloseTo((3000 * PRECHARGE_SHARE.high * 60) / 100, 9);
		// under half a volt the pack is taken for half a volt
		expect(prechargeWait({ capacityMah: 3000, plugVolts: 5, plugAmps: 0.1, packVolts: 0.1 }).low).toBeCloseTo(
			(3000 * PRECHARGE_SHARE.low * 60) / 900,
			9
		);
	});
});
