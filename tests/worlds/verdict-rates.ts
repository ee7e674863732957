import type { Catalog, Connector, Model } from '$lib/core/catalog/catalog';
import { packState } from '$lib/core/charging/cell-limits';
import {
	isSoundDraw,
	judgePlugIn,
	type PlugContext,
	type PlugMoment
} from '$lib/core/charging/judge-plug-in';
import { chargeProfile } from '$lib/core/charging/healthy-draw';
import { judgeLooks } from '$lib/core/charging/judge-looks';
import { walkPath } from '$lib/core/charging/power-path';
import { soakDrain } from '$lib/core/charging/soak';
import { compareReadings, type TakenReading } from '$lib/core/readings/compare';
import { EMPTY_BOOK, knownGoodBook, type KnownGoodBook } from '$lib/core/readings/known-good-book';
import type { ReferenceRecord } from '$lib/core/readings/reference';
import { wilsonInterval, type Interval } from '$lib/core/statistics/rate-interval';
import { drawNormal, seededRandom, type Random } from '$lib/core/units/random';
import { FAULT_TRUTHS } from '$lib/core/simulation/demo-faults';
import {
	boardDiode,
	meterShows,
	simulateDevice,
	type SimulatedDevice
} from '$lib/core/simulation/simulated-device';

/** What each way of measuring called unsound, of so many devices. */
export const WAYS = ['pins', 'pinsAlone', 'plugIn', 'battery', 'path', 'soak', 'any'] as const;
type Way = (typeof WAYS)[number];
export interface RateOf extends Interval {
	hits: number;
	of: number;
}
export interface VerdictRates {
	/** null: sound devices, whose hits are false alarms */
	fault: string | null;
	rates: Record<Way, RateOf>;
	/** the path's likeliest break lies where the fault is, of those that lose or sag the supply */
	place: RateOf | null;
}

const rate = (hits: number, of: number): RateOf => ({ hits, of, ...wilsonInterval(hits, of) });

/** Known-good readings of a model from some sound boards. */
function bookOf(random: Random, model: string, connector: Connector, boards: number): KnownGoodBook {
	const own = Array.from({ length: boards }, () =>
		[...boardDiode(random, connector, model, [])].map(([pin, value]): ReferenceRecord => ({
			record: 'reference',
			model,
			pin,
			mode: 'diode',
			grade: 'verified',
			...meterShows(random, value)
		}))
	).flat();
	return knownGoodBook({ own });
}

/**
 * Simulated devices with each fault of the demo catalog, and sound ones, measured with noise and judged by the
 * program's own verdicts. The same seed gives the same rates.
 */
export function verdictRates(
	catalog: Catalog,
	options: { seed: number; devices: number; boards: number }
): VerdictRates[] {
	const random = seededRandom(options.seed);
	const models = [...catalog.models.values()].flatMap((model) => {
		const connector = catalog.connectors.get(model.connector ?? '');
		return connector
			? [{ model, connector, book: bookOf(random, model.code, connector, options.boards) }]
			: [];
	});
	return [null, ...Object.keys(FAULT_TRUTHS)].map((fault) => {
		const seen = Array.from({ length: options.devices }, (_, i) => {
			const { model, connector, book } = models[i % models.length] as (typeof models)[number];
			const device = simulateDevice(random, { model, connector, faults: fault ? [fault] : [] });
			return measureDevice(random, device, book);
		});
		const count = (way: Way) => rate(seen.filter((alarms) => alarms[way]).length, seen.length);
		const place = fault ? FAULT_TRUTHS[fault]?.path?.from : undefined;
		return {
			fault,
			rates: Object.fromEntries(WAYS.map((way) => [way, count(way)])) as Record<Way, RateOf>,
			place: place ? rate(seen.filter(({ lostAt }) => lostAt === place).length, seen.length) : null
		};
	});
}

type Alarms = Record<Way, boolean> & { lostAt: string | null };

function measureDevice(random: Random, device: SimulatedDevice, book: KnownGoodBook): Alarms {
	const readings = readPort(random, device);
	const judged = compareReadings(device.connector, readings, book);
	const pins =
		judged.findings.length > 0 ||
		judged.pins.some(({ verdict }) => verdict !== 'agrees' && verdict !== 'no-reference');
	const pinsAlone = compareReadings(device.connector, readings, EMPTY_BOOK).findings.length > 0;
	const { model } = device;
	const cells = model.battery?.cells ?? 1;
	const battery = ['cut-off', 'discard', 'watch', 'over'].includes(
		packState(device.packVolts, cells, model.battery?.chemistry).state
	);
	const plugIn = plugAlarm(random, device);
	const { path, lostAt } = walkDevice(random, device);
	const soak = soakAlarm(random, device);
	return {
		pins,
		pinsAlone,
		plugIn,
		battery,
		path,
		soak,
		any: pins || plugIn || battery || path || soak,
		lostAt
	};
}

const readPort = (random: Random, { diode }: SimulatedDevice): TakenReading[] =>
	[...diode].map(([pin, value]) => ({ pin, mode: 'diode', ...meterShows(random, value) }));

/** Both sides, four moments each, and the battery. */
function plugAlarm(random: Random, device: SimulatedDevice): boolean {
	const { model, connector, packVolts } = device;
	const moments = (['a', 'b'] as const).flatMap((orientation) =>
		[8, 9.3, 10.6, 20].map((seconds): PlugMoment => {
			const amps = Math.max(0, device.draw(orientation, seconds) * (1 + 0.01 * drawNormal(random)));
			return {
				orientation,
				seconds,
				amps,
				volts: device.contractVolts + 0.09 - 0.12 * amps + 0.01 * drawNormal(random)
			};
		})
	);
	const context: PlugContext = {
		...chargeProfile(model, connector),
		battery: model.battery ?? null,
		batteryVolts: packVolts
	};
	return (
		judgeLooks(moments, () => context).length > 0 ||
		moments.some((moment) => !isSoundDraw(judgePlugIn(moment, context).kind))
	);
}

/** Follows the advice from probe to probe until the question is settled. */
function walkDevice(
	random: Random,
	{ model, nodes }: SimulatedDevice
): { path: boolean; lostAt: string | null } {
	const path = (model as Model).path ?? [];
	const measured = new Map<string, number>();
	for (;;) {
		const finding = walkPath(path, measured);
		if (!finding.next) {
			const lost = finding.whole < 0.5;
			return { path: lost, lostAt: lost ? (finding.breaks[0]?.to ?? null) : null };
		}
		const { node } = finding.next;
		measured.set(node, Math.max(0, (nodes.get(node) ?? 0) + 0.01 * drawNormal(random)));
	}
}

/** An hour and a half, looked at every quarter of an hour, in whole per cents. */
function soakAlarm(random: Random, { model, drain }: SimulatedDevice): boolean {
	const points = [0, 15, 30, 45, 60, 75, 90].map((minutes) => ({
		minutes,
		percent: Math.round(Math.max(0, 97 - (drain * minutes) / 60 + 0.2 * drawNormal(random)))
	}));
	return soakDrain(points, model.drain?.percent_per_hour ?? null).verdict === 'drains-fast';
}

/** False alarms of single contacts on sound boards, by how many known-good boards there are. */
export function falseAlarmsByBoards(
	catalog: Catalog,
	options: { seed: number; devices: number; boards: readonly number[] }
): { boards: number; alarms: RateOf }[] {
	const random = seededRandom(options.seed);
	const model = [...catalog.models.values()].find(({ connector }) => connector !== undefined) as Model;
	const connector = catalog.connectors.get(model.connector ?? '') as Connector;
	return options.boards.map((boards) => {
		let hits = 0;
		let of = 0;
		for (let i = 0; i < options.devices; i++) {
			const book = bookOf(random, model.code, connector, boards);
			const device = simulateDevice(random, { model, connector, faults: [] });
			const { pins } = compareReadings(connector, readPort(random, device), book);
			hits += pins.filter(({ verdict }) => verdict !== 'agrees').length;
			of += pins.length;
		}
		return { boards, alarms: rate(hits, of) };
	});
}
