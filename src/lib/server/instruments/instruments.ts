import process from 'node:process';
import { setTimeout as wait } from 'node:timers/promises';
import type { Catalog } from '$lib/core/catalog/catalog';
import {
	simulatedName,
	type InstrumentInfo,
	type MeterSample,
	type PowerSample
} from '$lib/core/readings/instrument';
import {
	simulatedMultimeter,
	simulatedPowerMeter,
	simulatedSupply
} from '$lib/core/simulation/simulated-instruments';
import { simulateDevice } from '$lib/core/simulation/simulated-device';
import { seededRandom } from '$lib/core/units/random';

export type Sample = MeterSample | PowerSample;

/** What an instrument is connected to. */
export interface Connection {
	catalog: Catalog;
	model: string;
	/** of a simulated device: the faults that are put in, and what tells one device from another */
	faults: readonly string[];
	seed: number;
	/** contacts that the probe walks over, in their order */
	pins: readonly string[];
	/** the stand-in is lost after so many samples; for rehearsing that */
	loseAfter: number | null;
}

/** Everything that measures for the program: a name, and samples as they come. */
export interface Instrument extends InstrumentInfo {
	open(connection: Connection, signal: AbortSignal): AsyncGenerator<Sample>;
}

/** Nobody walks a port for longer; a forgotten stream ends by itself. */
const LONGEST_MS = 10 * 60_000;

/** Plays samples at the times that they carry. */
async function* inTime(
	samples: Iterable<Sample>,
	{ loseAfter }: Connection,
	signal: AbortSignal
): AsyncGenerator<Sample> {
	const start = performance.now();
	let count = 0;
	for (const sample of samples) {
		if (signal.aborted || sample.atMs > LONGEST_MS) return;
		if (loseAfter !== null && count++ >= loseAfter) throw new Error('instrument lost');
		const due = start + sample.atMs - performance.now();
		if (due > 0) await wait(due, undefined, { signal }).catch(() => undefined);
		yield sample;
	}
}

function deviceOf({ catalog, model, faults, seed }: Connection) {
	const record = catalog.models.get(model);
	const connector = catalog.connectors.get(record?.connector ?? '');
	const random = seededRandom(seed);
	return record && connector
		? { random, device: simulateDevice(random, { model: record, connector, faults }) }
		: null;
}

const STAND_INS: Instrument[] = [
	{
		id: 'multimeter',
		label: simulatedName('multimeter'),
		kind: 'multimeter',
		simulated: true,
		open: (connection, signal) => {
			const made = deviceOf(connection);
			return inTime(
				made ? simulatedMultimeter(made.random, made.device, connection.pins) : [],
				connection,
				signal
			);
		}
	},
	{
		id: 'power-meter',
		label: simulatedName('power meter'),
		kind: 'power-meter',
		simulated: true,
		open: (connection, signal) => {
			const made = deviceOf(connection);
			return inTime(made ? simulatedPowerMeter(made.random, made.device) : [], connection, signal);
		}
	},
	{
		id: 'supply',
		label: simulatedName('bench supply'),
		kind: 'supply',
		simulated: true,
		open: (connection, signal) => {
			const made = deviceOf(connection);
			return inTime(made ? simulatedSupply(made.random, made.device) : [], connection, signal);
		}
	}
];

/** Stand-ins are for the demo shop and for rehearsal: a shop that earns money with its readings has none of them. */
const standIns = () => process.env.TAVREK_DEMO === '1' || process.env.TAVREK_INSTRUMENTS === 'simulated';

export const instruments = (): Instrument[] => (standIns() ? STAND_INS : []);
export const instrumentInfos = (): InstrumentInfo[] =>
	instruments().map(({ id, label, kind, simulated }) => ({ id, label, kind, simulated }));
