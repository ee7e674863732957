import process from 'node:process';
import { setTimeout as wait } from 'node:timers/promises';
import type { Catalog } from '$lib/core/catalog/catalog';
import {
	simulatedName,
	type InstrumentInfo,
	type InstrumentKind,
	type MeterSample,
	type PowerSample
} from '$lib/core/readings/instrument';
import {
	simulatedMultimeter,
	simulatedPowerMeter,
	simulatedSupply
} from '$lib/core/simulation/simulated-instruments';
import { simulateDevice, type SimulatedDevice } from '$lib/core/simulation/simulated-device';
import { seededRandom, type Random } from '$lib/core/units/random';

type Sample = MeterSample | PowerSample;

/** What an instrument is connected to. */
interface Connection {
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

/** A stand-in: the samples of its play on the device that is put before it; none where the model has no port. */
function standIn(
	id: string,
	name: string,
	kind: InstrumentKind,
	play: (random: Random, device: SimulatedDevice, pins: readonly string[]) => Iterable<Sample>
): Instrument {
	const samplesOf = ({ catalog, model, faults, seed, pins }: Connection) => {
		const record = catalog.models.get(model);
		const connector = catalog.connectors.get(record?.connector ?? '');
		if (!record || !connector) return [];
		const random = seededRandom(seed);
		return play(random, simulateDevice(random, { model: record, connector, faults }), pins);
	};
	return {
		id,
		label: simulatedName(name),
		kind,
		simulated: true,
		open: (connection, signal) => inTime(samplesOf(connection), connection, signal)
	};
}

const STAND_INS: Instrument[] = [
	standIn('multimeter', 'multimeter', 'multimeter', simulatedMultimeter),
	standIn('power-meter', 'power meter', 'power-meter', (random, device) =>
		simulatedPowerMeter(random, device)
	),
	standIn('supply', 'bench supply', 'supply', simulatedSupply)
];

/** Stand-ins are for the demo shop and for rehearsal: a shop that earns money with its readings has none of them. */
const standIns = () => process.env.TAVREK_DEMO === '1' || process.env.TAVREK_INSTRUMENTS === 'simulated';

export const instruments = (): Instrument[] => (standIns() ? STAND_INS : []);
export const instrumentInfos = (): InstrumentInfo[] =>
	instruments().map(({ id, label, kind, simulated }) => ({ id, label, kind, simulated }));
