/**
 * Jumper wire: resistance, drop, heat and fusing current of bare copper. Lengths and diameters in mm, amperes,
 * ohms, degrees Celsius. The diameter is that of the copper: enamel does not count.
 */

/** Ohm metres at 20 °C, 100 % IACS, and its temperature coefficient. Source: IEC 60028. */
const COPPER_RESISTIVITY = 1.7241e-8;
const COPPER_COEFFICIENT = 0.00393;

/** Diameter of an American wire gauge: 0.127 mm · 92^((36 − n) / 39). Source: ASTM B258. */
export const gaugeDiameterMm = (gauge: number) => 0.127 * 92 ** ((36 - gauge) / 39);

const areaMm2 = (diameterMm: number) => (Math.PI / 4) * diameterMm ** 2;

/** Resistance of copper at a temperature over that at 20 °C. */
export const copperFactor = (celsius: number) => 1 + COPPER_COEFFICIENT * (celsius - 20);

/** R = ρ·L / (N·A), joints ignored. */
export function wireOhms(wire: {
	diameterMm: number;
	lengthMm: number;
	wires?: number;
	celsius?: number;
}): number {
	const { diameterMm, lengthMm, wires = 1, celsius = 20 } = wire;
	const cold = (COPPER_RESISTIVITY * (lengthMm / 1000)) / (wires * areaMm2(diameterMm) * 1e-6);
	return cold * copperFactor(celsius);
}

/** Long wire in free air, steady: 80 · d^1.5. Source: W. H. Preece, Proc. Royal Society, 1884 and 1888. */
export const preeceFusingAmps = (diameterMm: number) => 80 * diameterMm ** 1.5;

const MM2_PER_CIRCULAR_MIL = (Math.PI / 4) * 0.0254 ** 2;

/**
 * No heat lost, short times only (under about 10 s): A · sqrt(log10((1083 − Ta) / (234 + Ta) + 1) / (33·S)),
 * A in circular mils. Attributed to I. M. Onderdonk; the original could not be located.
 */
export function onderdonkFusingAmps(diameterMm: number, seconds: number, ambient = 25): number {
	const mils = areaMm2(diameterMm) / MM2_PER_CIRCULAR_MIL;
	return mils * Math.sqrt(Math.log10((1083 - ambient) / (234 + ambient) + 1) / (33 * seconds));
}

/** Seconds until a current melts it, by the same formula. */
export function onderdonkSeconds(diameterMm: number, amps: number, ambient = 25): number {
	return (onderdonkFusingAmps(diameterMm, 1, ambient) / amps) ** 2;
}

/** Fewest equal wires in parallel that keep the drop at 20 °C within a limit. */
export function wiresForDrop(wire: {
	diameterMm: number;
	lengthMm: number;
	amps: number;
	dropVolts: number;
}): number {
	const one = wireOhms(wire) * wire.amps;
	return Math.max(1, Math.ceil(one / wire.dropVolts - 1e-9));
}

export interface Jumper {
	ohms: number;
	dropVolts: number;
	watts: number;
	/** amperes in each wire */
	each: number;
	/** steady fusing current of one wire in free air */
	fusingAmps: number;
	/** fusing current over the current in it; under 2 is too near. A choice */
	margin: number;
	wiresForDrop: number;
	/** wires that keep each at half its fusing current or less */
	wiresForFusing: number;
	verdict: 'fine' | 'thin' | 'melts';
}

/** What some wires in parallel do under a current, and how many would do. */
export function jumper(input: {
	diameterMm: number;
	lengthMm: number;
	wires: number;
	amps: number;
	celsius: number;
	dropVolts: number;
}): Jumper {
	const { diameterMm, wires, amps } = input;
	const ohms = wireOhms(input);
	const ampsPerWire = amps / wires;
	const fusingAmps = preeceFusingAmps(diameterMm);
	const margin = ampsPerWire === 0 ? Infinity : fusingAmps / ampsPerWire;
	return {
		ohms,
		dropVolts: ohms * amps,
		watts: ohms * amps * amps,
		each: ampsPerWire,
		fusingAmps,
		margin,
		wiresForDrop: wiresForDrop(input),
		wiresForFusing: Math.max(1, Math.ceil((2 * amps) / fusingAmps - 1e-9)),
		verdict: margin < 1 ? 'melts' : margin < 2 || ohms * amps > input.dropVolts ? 'thin' : 'fine'
	};
}

/** Copper of a printed trace: I = k · dT^0.44 · A^0.725, A in square mils, k .048 outside, .024 inside. Source: IPC-2221. */
export function traceAmps(trace: {
	widthMm: number;
	copperUm: number;
	riseK: number;
	inner?: boolean;
}): number {
	const squareMils = (trace.widthMm / 0.0254) * (trace.copperUm / 25.4);
	return (trace.inner ? 0.024 : 0.048) * trace.riseK ** 0.44 * squareMils ** 0.725;
}
