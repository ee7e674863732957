import { z } from 'zod';

/**
 * The one interface to instruments: a stream of samples, whether they come from a meter on the bench, from the
 * simulated stand-ins or from a file that is played again.
 */
export type InstrumentKind = 'multimeter' | 'power-meter' | 'supply';

export interface InstrumentInfo {
	id: string;
	label: string;
	kind: InstrumentKind;
	/** its readings are invented: they never become known good and teach nothing */
	simulated: boolean;
}

const atMs = z.number().min(0);

/** What a multimeter shows: a value in the mode that it stands in, or overload. */
export const meterSample = z
	.strictObject({ atMs, value: z.number().optional(), overload: z.boolean().optional() })
	.refine(({ value, overload }) => (value === undefined) === (overload === true));
/** What an inline power meter or a bench supply shows. */
export const powerSample = z.strictObject({ atMs, volts: z.number(), amps: z.number() });

export type MeterSample = z.output<typeof meterSample>;
export type PowerSample = z.output<typeof powerSample>;

/** Readings taken with these names are the stand-ins'. */
const SIMULATED = 'simulated ';
export const simulatedName = (label: string) => `${SIMULATED}${label}`;
export const isSimulatedMeter = (meter: string | undefined) => meter?.startsWith(SIMULATED) ?? false;
