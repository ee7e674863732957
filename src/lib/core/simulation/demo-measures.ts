import { itemAt } from '../units/vector';
import type { Catalog, Model } from '../catalog/catalog';
import { walkPath } from '../charging/power-path';
import type { Ticket } from '../tickets/ticket-record';
import { drawIndex, drawOne, type Random } from '../units/random';
import { METERS } from './demo-references';
import { BACKGROUND_TESTS, type FaultTruth } from './demo-world';
import { boardDiode, meterShows, pathVolts } from './simulated-device';

/** What is measured of the demo shop's devices: tests, contacts, the charging path. */

/** Under two faults the outcome is that of the fault that the test speaks about. */
export function drawOutcome(random: Random, test: string, truths: readonly FaultTruth[]): string {
	const telling = truths.find(({ tests }) => tests[test])?.tests[test];
	const chances = telling ?? BACKGROUND_TESTS[test] ?? {};
	const outcomes = Object.keys(chances);
	return itemAt(outcomes, drawIndex(random, Object.values(chances)));
}

export function readPins(
	random: Random,
	catalog: Catalog,
	ticket: Ticket,
	model: Model,
	truths: readonly FaultTruth[],
	stamp: { at: number; by: string }
): void {
	const connector = catalog.connectors.get(model.connector ?? '');
	if (!connector) return;
	const [meter, factor] = drawOne(random, METERS);
	for (const [pin, value] of boardDiode(random, connector, model.code, truths)) {
		const shown = meterShows(random, value, factor);
		ticket.readings.push({ stage: 'diagnosis', pin, mode: 'diode', ...shown, meter, ...stamp });
	}
}

/** Some nodes of the charging path, as the program advises them one by one. */
export function probePath(
	random: Random,
	ticket: Ticket,
	model: Model,
	truths: readonly FaultTruth[],
	stamp: { at: number; by: string }
): void {
	const volts = pathVolts(random, model, truths);
	const measured = new Map<string, number>();
	for (;;) {
		const next = walkPath(model.path ?? [], measured).next?.node;
		if (next === undefined) return;
		measured.set(next, Math.round((volts.get(next) ?? 0) * 100) / 100);
		ticket.path.push({ stage: 'diagnosis', node: next, volts: measured.get(next) as number, ...stamp });
	}
}
