import { measuredAnswers } from '../evidence/measurements';
import { engineOf } from '../diagnosis/engine';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import { STARTER_CATALOG } from '../catalog/starter-catalog';
import { checkReferences } from '../exchange/check-references';
import { readLines } from '../exchange/read-lines';
import { readFeatures } from '../diagnosis/learn/evidence';
import { learn, lessonOf } from '../diagnosis/learn/learn';
import { inferOdds } from '../diagnosis/infer/odds';
import { DEMO_CATALOG } from './demo-catalog';
import { simulateShop } from './demo-shop';

const endsAt = Date.UTC(2026, 10, 24, 12);
const shop = simulateShop({ seed: 1, endsAt, count: 1400 });
const lines = shop.records.map((record) => JSON.stringify(record)).join('\n');
const nothing = {
	has: () => false,
	outcomesOf: () => null,
	pinsOf: () => null,
	connectorOf: () => null,
	nodesOf: () => null,
	pointsOf: () => null,
	catchAlls: () => [],
	countNames: () => ['pads'],
	answersTo: measuredAnswers,
	questions: []
};

const byNumber = new Map(shop.tickets.map((ticket) => [ticket.number, ticket]));
const comebacksAfter = (operation: string) =>
	shop.tickets
		.filter(
			({ comebackOf }) =>
				byNumber.get(comebackOf ?? '')?.attempts.findLast(({ resolved }) => resolved)?.operation === operation
		)
		.map(({ number }) => shop.truth.get(number) ?? []);

describe('the simulated shop', () => {
	it('is the same for the same seed and another for another', () => {
		const again = simulateShop({ seed: 1, endsAt, count: 1400 });
		expect(again.records).toEqual(shop.records);
		const other = simulateShop({ seed: 2, endsAt, count: 1400 });
		expect(other.tickets[0]).not.toEqual(shop.tickets[0]);
	});

	it('speaks the exchange format without an error', () => {
		const read = readLines(lines);
		expect(read.errors).toEqual([]);
		expect(checkReferences(read.records, nothing)).toEqual([]);
	});

	it('leaves a shop at work: open tickets, comebacks, double faults', () => {
		const open = shop.tickets.filter(({ closedAt }) => closedAt === null);
		expect(open.length).toBeGreaterThan(7);
		expect(open.length).toBeLessThan(40);
		expect(shop.tickets.filter(({ comebackOf }) => comebackOf).length).toBeGreaterThan(30);
		expect(shop.tickets.filter(({ faults }) => faults?.length === 2).length).toBeGreaterThan(60);
	});

	it('looks into ports, agrees on contracts, and plugs in again after repairs that failed', () => {
		const share = (of: (ticket: (typeof shop.tickets)[number]) => boolean) =>
			shop.tickets.filter(of).length / shop.tickets.length;
		const looked = shop.tickets.filter(({ inspection }) => inspection.length > 0);
		expect(looked.length / shop.tickets.length).toBeGreaterThan(0.25);
		const odd = looked.filter(({ inspection }) => inspection.some(({ state }) => state !== 'straight'));
		expect(odd.length / looked.length).toBeGreaterThan(0.2);
		expect(odd.length / looked.length).toBeLessThan(0.7);
		expect(
			looked.some(({ inspection }) => inspection.filter(({ state }) => state === 'missing').length > 9)
		).toBe(true);
		expect(share(({ meter }) => meter.some(({ contract }) => contract === 9))).toBeGreaterThan(0.02);
		expect(share(({ battery }) => battery.some(({ volts }) => volts < 0.05))).toBeGreaterThan(0.02);
		const again = shop.tickets.filter(({ meter }) => meter.some(({ stage }) => stage === 'after-repair'));
		expect(again.length).toBeGreaterThan(40);
		for (const { attempts } of again) expect(attempts.some(({ resolved }) => !resolved)).toBe(true);
	});

	it('has every fault of the trade, each only where it can be', () => {
		const seen = new Set([...shop.truth.values()].flat());
		const starter = STARTER_CATALOG.flatMap((record) => (record.record === 'fault' ? [record.code] : []));
		expect([...seen].sort()).toEqual([...starter].sort());
		const catalog = buildCatalog(DEMO_CATALOG);
		for (const { number, model } of shop.tickets) {
			const { carries = [] } = catalog.models.get(model) ?? {};
			for (const fault of shop.truth.get(number) ?? []) {
				if (fault === 'wireless-coil') expect(carries).toContain('wireless');
				if (fault === 'display-controller') expect(carries).toContain('picture');
			}
		}
		const words = shop.tickets.filter(({ faults }) => faults?.includes('other'));
		for (const { faultWords } of words) expect(faultWords).toMatch(/^\p{L}/u);
		expect(words.length).toBeGreaterThan(5);
	});

	it('nothing is plugged where a contact was seen folded or touching', () => {
		const warned = shop.tickets.filter(({ inspection }) =>
			inspection.some(({ state }) => state === 'folded' || state === 'touching')
		);
		expect(warned.length).toBeGreaterThan(20);
		for (const { meter, observations } of warned) {
			expect(meter.filter(({ stage }) => stage === 'intake')).toEqual([]);
			expect(observations.map(({ test }) => test)).not.toContain('cable-known-good');
		}
	});

	it('a short by a folded contact goes with the old port, one by a capacitor stays', () => {
		const tested = (fault: string, test: string) =>
			shop.tickets
				.filter(({ number }) => shop.truth.get(number)?.join() === fault)
				.flatMap(({ observations }) => observations.filter((seen) => seen.test === test))
				.map(({ outcome }) => outcome);
		const share = (outcomes: readonly string[]) =>
			outcomes.filter((outcome) => outcome === 'short').length / outcomes.length;
		expect(share(tested('port-contacts', 'vbus-ground'))).toBeGreaterThan(0.05);
		expect(share(tested('port-contacts', 'vbus-ground-off'))).toBeLessThan(0.05);
		expect(share(tested('shorted-capacitor', 'vbus-ground'))).toBeGreaterThan(0.8);
	});

	it('what is seen under a port is seen with the old one off, and pads are counted then', () => {
		const under = shop.tickets.filter(({ observations }) =>
			observations.some(({ stage }) => stage === 'port-off')
		);
		expect(under.length).toBeGreaterThan(50);
		for (const { attempts, counts } of under) {
			expect(attempts[0]).toMatchObject({ operation: 'remove-port', part: true, resolved: false });
			expect(counts.some(({ what }) => what === 'pads')).toBe(true);
		}
		const torn = shop.tickets.filter(
			({ number, attempts }) => shop.truth.get(number)?.includes('torn-pads') && attempts.length > 0
		);
		expect(torn.length).toBeGreaterThan(10);
		for (const { counts } of torn)
			expect(counts.find(({ what }) => what === 'pads')?.number).toBeGreaterThan(0);
	});

	it('what comes back after a new port is a joint of it most often', () => {
		const joints = comebacksAfter('replace-port').filter((faults) => faults.includes('port-joints')).length;
		expect(comebacksAfter('replace-port').length).toBeGreaterThan(8);
		expect(joints / comebacksAfter('replace-port').length).toBeGreaterThan(0.3);
	});

	it('teaches the engine: the last tenth, predicted from the rest, beats the commonest fault', () => {
		const catalog = buildCatalog(DEMO_CATALOG);
		const closed = shop.tickets.filter(({ faults }) => faults && faults.length > 0);
		const cut = Math.floor(closed.length * 0.9);
		const learned = learn(closed.slice(0, cut).flatMap((ticket) => lessonOf(ticket, catalog) ?? []));
		const commonest = [...learned.faults].sort((a, b) => b[1] - a[1])[0]?.[0] as string;
		const held = closed.slice(cut);
		const right = held.filter((ticket) => {
			const features = readFeatures({ ...ticket, attempts: [] }, catalog);
			const { odds } = inferOdds(engineOf(catalog, learned), ticket.model, features);
			return shop.truth.get(ticket.number)?.includes(odds.faults[0]?.code as string);
		}).length;
		const base = held.filter(({ number }) => shop.truth.get(number)?.includes(commonest)).length;
		expect(held.length).toBeGreaterThan(80);
		expect(right / held.length).toBeGreaterThan(0.6);
		expect(right).toBeGreaterThan(2 * base);
	});
});
