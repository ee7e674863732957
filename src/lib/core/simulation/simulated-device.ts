import type { Connector, Model } from '../catalog/catalog';
import { cellLimits, restedCharge } from '../charging/cell-limits';
import { USUAL_DRAIN_PER_HOUR } from '../charging/soak';
import { drawNormal, drawOne, type Random } from '../units/random';
import { FAULT_TRUTHS } from './demo-faults';
import type { FaultTruth, PinTruth } from './demo-world';

/** A device with hidden faults, to be measured. Values are what a perfect instrument would show. */
export interface SimulatedDevice {
	model: Model;
	connector: Connector;
	faults: readonly string[];
	/** diode mode to ground, by contact; null is overload */
	diode: ReadonlyMap<string, number | null>;
	/** volts at each node of its path, fed with 5 V */
	nodes: ReadonlyMap<string, number>;
	packVolts: number;
	/** volts that it agrees with a supply a second after it is plugged in */
	contractVolts: number;
	/** amperes that it draws some seconds after it is plugged in */
	draw(orientation: 'a' | 'b', seconds: number): number;
	/** per cent an hour */
	drain: number;
}

/** What a sound board of the demo shop reads on a net, in diode mode; null is overload. */
function soundDiode(net: string, model: string): number | null {
	const base: Record<string, number> = {
		gnd: 0.001,
		vbus: 0.47,
		cc1: 0.73,
		cc2: 0.73,
		'd+': 0.61,
		'd-': 0.612,
		id: 0.66,
		supply: 0.48,
		data: 0.58,
		sense: 0.64
	};
	const value = base[net];
	if (value === undefined) return net.startsWith('sbu') ? 0.52 : null;
	if (net === 'gnd') return value;
	const shift = ([...model].reduce((sum, letter) => sum + letter.charCodeAt(0), 0) % 9) - 4;
	return value + shift * 0.004;
}

/** How much boards of one model differ in diode mode, volts: 99 of 100 within the 0.02 that the trade goes by. */
const BOARD_SPREAD = 0.0078;
const METER_NOISE = 0.0008;

const truthsOf = (faults: readonly string[]): FaultTruth[] =>
	faults.flatMap((fault) => FAULT_TRUTHS[fault] ?? []);

/** Diode readings of one board with some faults, by contact. */
export function boardDiode(
	random: Random,
	connector: Connector,
	model: string,
	truths: readonly FaultTruth[]
): Map<string, number | null> {
	const wrong = Object.assign({}, ...truths.map(({ pins }) => pins ?? {})) as Record<string, PinTruth>;
	const broken = new Set(
		Object.entries(wrong).flatMap(([net, defect]) => {
			if (defect !== 'open-one' || random() < 0.25) return [];
			const members = connector.pins.filter((pin) => pin.net === net);
			return members.length > 0 ? [drawOne(random, members).pin] : [];
		})
	);
	// what the board gives a net, every contact of it shares
	const nets = new Map<string, number | null>();
	for (const { net } of connector.pins) {
		const sound = nets.has(net) ? null : soundDiode(net, model);
		if (!nets.has(net))
			nets.set(net, sound === null || net === 'gnd' ? sound : sound + BOARD_SPREAD * drawNormal(random));
	}
	return new Map(
		connector.pins.map(({ pin, net }): [string, number | null] => {
			const defect = wrong[net];
			const sound = nets.get(net) ?? null;
			if (defect === 'short') return [pin, 0.002];
			if (sound === null || broken.has(pin)) return [pin, null];
			return [pin, sound * (defect === 'low' ? 0.6 : defect === 'high' ? 1.25 : 1)];
		})
	);
}

/** What a meter makes of a true reading: noise of its last digit, three decimals, nothing below zero. */
export function meterShows(random: Random, value: number | null, factor = 1) {
	if (value === null) return { overload: true as const };
	const shown = value * factor + METER_NOISE * drawNormal(random);
	return { value: Math.max(0, Math.round(shown * 1000) / 1000) };
}

/** @param packVolts of the battery as it arrives; drawn from what the faults leave where it is not given */
export function simulateDevice(
	random: Random,
	device: { model: Model; connector: Connector; faults: readonly string[]; packVolts?: number }
): SimulatedDevice {
	const { model, connector, faults } = device;
	const truths = truthsOf(faults);
	const cells = model.battery?.cells ?? 1;
	const lowest = [...truths].sort((a, b) => a.batteryVolts.centre - b.batteryVolts.centre)[0]?.batteryVolts;
	const drawn = lowest ? lowest.centre + lowest.spread * drawNormal(random) : 3.75 + 0.1 * drawNormal(random);
	const contract = contractOf(model, truths);
	const packVolts = device.packVolts ?? Math.min(4.2, Math.max(0, drawn)) * cells;
	return {
		model,
		connector,
		faults,
		diode: boardDiode(random, connector, model.code, truths),
		nodes: pathVolts(random, model, truths),
		packVolts,
		contractVolts: contract.volts,
		draw: drawOf(random, { model, truths, packVolts, healthyAmps: contract.amps }),
		drain:
			(model.drain?.percent_per_hour ?? USUAL_DRAIN_PER_HOUR) *
			(1 + 0.08 * drawNormal(random)) *
			Math.max(1, ...truths.map(({ drain }) => drain ?? 1))
	};
}

/** Volts at each node of a model's path, fed with 5 V. */
export function pathVolts(random: Random, model: Model, truths: readonly FaultTruth[]): Map<string, number> {
	let share = 1;
	return new Map(
		(model.path ?? []).map(({ node, volts }) => {
			for (const { path } of truths) {
				if (path?.from === node) share = Math.min(share, path.how === 'lost' ? 0.03 : 0.72);
			}
			const sound = volts.low + (volts.high - volts.low) * (0.5 + 0.12 * drawNormal(random));
			return [node, Math.max(0, sound * share)];
		})
	);
}

/** The highest contract that a model knows; 5 V where its port controller is gone. */
function contractOf({ charge, charges = [] }: Model, truths: readonly FaultTruth[]) {
	const usual = charge ?? { volts: 5, amps: 0.5 };
	if (truths.some(({ noContract }) => noContract)) return usual;
	return [usual, ...charges].reduce((best, charge) => (charge.volts > best.volts ? charge : best));
}

/** Draw after plugging in: nothing while supply and device agree, then what battery and faults allow. */
function drawOf(
	random: Random,
	device: { model: Model; truths: readonly FaultTruth[]; packVolts: number; healthyAmps: number }
): SimulatedDevice['draw'] {
	const { model, truths, packVolts, healthyAmps: healthy } = device;
	const worst = [...truths].sort((a, b) => a.draw.centre - b.draw.centre)[0];
	const share = worst
		? Math.max(0, worst.draw.centre + worst.draw.spread * drawNormal(random))
		: 0.95 + 0.05 * drawNormal(random);
	const otherSide = worst?.draw.otherSide !== undefined && random() < 0.5 ? worst.draw.otherSide : share;
	const swapped = random() < 0.5;
	const cell = packVolts / (model.battery?.cells ?? 1);
	const limits = cellLimits(model.battery?.chemistry);
	const full = restedCharge(cell, limits) > 0.97;
	const flat = cell < limits.precharge;
	const unsteady = truths.find(({ unsteady }) => unsteady)?.unsteady;
	const phase = random() * 2;
	return (orientation, seconds) => {
		if (seconds < 1) return 0;
		const side = healthy * ((orientation === 'a') === swapped ? otherSide : share);
		const able = full ? 0.004 : flat ? Math.min(side, 0.045 * healthy + 0.02) : side;
		const settled = able * (1 - Math.exp(-(seconds - 1) / 0.5));
		if (unsteady === 'pulsing')
			return Math.floor((seconds + phase) / 1.3) % 2 === 0 ? settled : 0.05 * settled;
		if (unsteady === 'dropouts') return Math.floor((seconds + phase) * 0.7) % 4 === 3 ? 0 : settled;
		return settled;
	};
}
