import Papa from 'papaparse';
import type { InstrumentKind, MeterSample, PowerSample } from '$lib/core/readings/instrument';
import { readLogText } from './read-log';
import { isQuote } from './split-line';

export type ReplayAnswer =
	{ ok: true; samples: (MeterSample | PowerSample)[] } | { ok: false; message: string };

const OVERLOAD = /^(o\.?l\.?|overload|inf(inity)?|∞)$/i;

/**
 * A file as an instrument: a power meter's log as any log is read; a multimeter's as two columns, time and reading,
 * with OL for overload.
 */
export function replaySamples(kind: InstrumentKind, text: string): ReplayAnswer {
	if (kind !== 'multimeter') {
		const read = readLogText(text);
		if (!read.ok) return read;
		const { seconds, volts, amps } = read.log.trace;
		const samples = [...seconds].map((s, i) => ({
			atMs: s * 1000,
			volts: volts[i] as number,
			amps: amps[i] as number
		}));
		return { ok: true, samples };
	}
	const { data, errors } = Papa.parse<string[]>(text.trim().replace(/^\ufeff/, ''), { skipEmptyLines: true });
	const odd = errors.find(isQuote);
	if (odd) {
		return { ok: false, message: `line ${(odd.row ?? 0) + 1} has a quote that is not closed; mend it` };
	}
	const perMs = /ms/i.test(data[0]?.[0] ?? '') ? 1 : 1000;
	const samples = data.flatMap(([time = '', shown = '']): MeterSample[] => {
		const atMs = Number(time.replace(',', '.')) * perMs;
		const value = Number(shown.replace(',', '.'));
		if (!Number.isFinite(atMs) || time.trim() === '' || atMs < 0) return [];
		if (OVERLOAD.test(shown.trim())) return [{ atMs, overload: true }];
		return shown.trim() === '' || !Number.isFinite(value) ? [] : [{ atMs, value }];
	});
	return samples.length > 1
		? { ok: true, samples }
		: {
				ok: false,
				message:
					'no readings in it; a multimeter’s file has two columns, time and reading, with OL for overload'
			};
}
