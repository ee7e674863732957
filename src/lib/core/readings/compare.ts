import type { Connector } from '../catalog/catalog';
import type { KnownGoodBook } from './known-good-book';
import { judgeNets, type NetVerdict } from './net-agreement';
import { portFindings, type Finding } from './port-findings';
import type { PinVerdict } from './pin-verdict';
import type { Mode } from './reference';
import { judgeReading, verdictOf, type Shown } from './verdict';

export interface TakenReading extends Shown {
	pin: string;
	mode: Mode;
	/** the instrument it was read with */
	meter?: string | undefined;
	/** revision of the board it was read on */
	board?: string | undefined;
}

export interface Comparison {
	pins: PinVerdict[];
	nets: NetVerdict[];
	findings: Finding[];
}

/**
 * Judges readings contact by contact and net by net. A contact read twice in a mode counts with its latest.
 * @param connector contacts and their nets; readings of contacts that it lacks are left out
 */
export function compareReadings(
	connector: Connector,
	readings: readonly TakenReading[],
	knownGood: KnownGoodBook
): Comparison {
	const pins = judgeContacts(connector, readings, knownGood, judgeReading);
	const nets = judgeNets(pins);
	return { pins, nets, findings: portFindings(connector, pins, nets) };
}

/** The same without findings and sureness: what a shop's whole past is read with. */
export function verdictsAlone(
	connector: Connector,
	readings: readonly TakenReading[],
	knownGood: KnownGoodBook
): Pick<Comparison, 'pins' | 'nets'> {
	const pins = judgeContacts(connector, readings, knownGood, (...reading) => ({
		verdict: verdictOf(...reading),
		confidence: 0
	}));
	return { pins, nets: judgeNets(pins) };
}

function judgeContacts(
	connector: Connector,
	readings: readonly TakenReading[],
	knownGood: KnownGoodBook,
	judge: typeof judgeReading
): PinVerdict[] {
	const latest = new Map<string, TakenReading[]>();
	for (const reading of readings) {
		const otherReadings = latest.get(reading.pin)?.filter(({ mode }) => mode !== reading.mode) ?? [];
		latest.set(reading.pin, [...otherReadings, reading]);
	}
	return connector.pins.flatMap(({ pin, net }) =>
		(latest.get(pin) ?? []).map((reading): PinVerdict => {
			const expected = knownGood.expected(pin, reading.mode, reading);
			return {
				pin,
				net,
				mode: reading.mode,
				value: reading.value ?? null,
				overload: reading.overload ?? false,
				...judge(reading, reading.mode, net, expected),
				expected
			};
		})
	);
}
