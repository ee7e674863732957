import { describe, expect, it } from 'vitest';
import { engineOf } from '../diagnosis/engine';
import { inferOdds } from '../diagnosis/infer/odds';
import { readFeatures, type Evidence } from '../diagnosis/learn/evidence';
import { learn } from '../diagnosis/learn/learn';
import { DEMO_CATALOG } from '../simulation/demo-catalog';
import { unseen } from '$worlds/fuse-and-port';
import { buildCatalog } from './catalog';
import { CATALOG_KINDS } from './kinds';
import { MEASURED_QUESTIONS, measuredAnswers } from '../evidence/measurements';
import { STARTER_BELIEFS } from './starter-beliefs';
import { STARTER_CATALOG } from './starter-catalog';

/** A shop of the trade on its first day: no ticket yet. What its odds make of the facts that the trade goes by. */

const catalog = buildCatalog(DEMO_CATALOG);
const engine = engineOf(catalog, learn([]));
const MODEL = 'tern-9';
const oddsOf = (evidence: Partial<Evidence>) =>
	inferOdds(engine, MODEL, readFeatures({ ...unseen(MODEL), ...evidence }, catalog)).odds;
const chance = (evidence: Partial<Evidence>, code: string) =>
	oddsOf(evidence).faults.find((fault) => fault.code === code)!.probability;
const plug = (volts: number, amps: number, orientation: 'a' | 'b' = 'a') => ({
	stage: 'intake',
	orientation,
	volts,
	amps,
	seconds: 20
});
const diode = (value: number, ...pins: string[]) =>
	pins.map((pin) => ({ stage: 'intake', pin, mode: 'diode' as const, value }));

describe('what the trade believes', () => {
	it('is well said: every record is one, names what the starter catalog holds, and no belief stands twice', () => {
		const starter = buildCatalog(STARTER_CATALOG);
		const keys = new Set<string>();
		for (const record of STARTER_BELIEFS) {
			if (record.record === 'comeback-belief') {
				expect(CATALOG_KINDS['comeback-belief'].schema.safeParse(record).error).toBeUndefined();
				expect(starter.operations.has(record.operation)).toBe(true);
				for (const fault of Object.keys(record.faults)) expect(starter.faults.has(fault)).toBe(true);
				keys.add(`comeback ${record.operation}`);
				continue;
			}
			if (record.record !== 'expectation') throw new Error('not a belief');
			expect(CATALOG_KINDS.expectation.schema.safeParse(record).error).toBeUndefined();
			if (record.given !== undefined) expect(starter.faults.has(record.given)).toBe(true);
			if (record.sign !== undefined) expect(starter.signs.has(record.sign)).toBe(true);
			for (const outcome of Object.keys(record.test === undefined ? {} : (record.outcomes ?? {})))
				expect(starter.tests.get(record.test as string)?.outcomes).toContain(outcome);
			keys.add(CATALOG_KINDS.expectation.key(record));
		}
		expect(keys.size).toBe(STARTER_BELIEFS.length);
		// what is usual is said of every sign, of every test, and of whatever is believed of a measurement
		const usual = STARTER_BELIEFS.filter((each) => each.record === 'expectation' && each.given === undefined);
		const said = new Set(
			usual.flatMap((each) =>
				each.record === 'expectation' ? [each.sign ?? each.test ?? each.measured] : []
			)
		);
		for (const code of [...starter.signs.keys(), ...starter.tests.keys()]) expect(said).toContain(code);
		for (const each of STARTER_BELIEFS)
			if (each.record === 'expectation' && each.measured) expect(said).toContain(each.measured);
	});
	it('every measurement that is listed has its answers', () => {
		for (const { question, answers } of MEASURED_QUESTIONS)
			expect(measuredAnswers(question)).toEqual(answers);
		expect(measuredAnswers('toString')).toBeNull();
		expect(measuredAnswers('path:')).toBeNull();
	});
	it.each<[string, Partial<Evidence>, string[]]>([
		['a short on VBUS', { readings: diode(0.001, 'A4', 'A9', 'B4', 'B9') }, ['shorted-capacitor']],
		[
			'a contract agreed and nothing drawn',
			{ meter: [plug(9.05, 0), plug(9.05, 0, 'b')] },
			['charge-controller', 'battery-plug', 'battery-connector']
		],
		['a folded contact', { inspection: [{ place: 'A5', state: 'folded' }] }, ['port-contacts']],
		['a burnt tongue', { inspection: [{ place: 'tongue', state: 'burnt' }] }, ['port-contacts']],
		[
			'pads gone at the back',
			{ inspection: [{ place: 'joints', state: 'missing' }] },
			['port-joints', 'torn-pads']
		],
		['one way round only', { meter: [plug(5.05, 0), plug(5.05, 0.95, 'b')] }, ['port-contacts']],
		['a configuration line at ground', { readings: diode(0.002, 'A5') }, ['port-controller']],
		[
			'a healthy current, runs out quickly',
			{ meter: [plug(5.05, 1)], signs: { 'short-runtime': true } },
			['battery-worn']
		],
		['a fuse that is open', { observations: [{ test: 'vbus-fuse', outcome: 'open' }] }, ['input-fuse']],
		[
			'joints that move',
			{ observations: [{ test: 'port-joint-push', outcome: 'some-move' }] },
			['port-joints']
		],
		[
			'it got wet, and the board is corroded',
			{ signs: { 'got-wet': true }, observations: [{ test: 'board-look', outcome: 'corroded' }] },
			['board-corrosion']
		]
	])('%s', (_, evidence, first) => {
		const { faults } = oddsOf(evidence);
		const named = faults.slice(0, first.length).map(({ code }) => code);
		expect([...named].sort()).toEqual([...first].sort());
		expect(faults[0]!.probability).toBeGreaterThan(2 * chance({}, faults[0]!.code));
	});
	it('a measurement that finds nothing odd speaks against the fault, too', () => {
		expect(chance({ observations: [{ test: 'vbus-fuse', outcome: 'through' }] }, 'input-fuse')).toBeLessThan(
			chance({}, 'input-fuse') / 4
		);
		const sound = { inspection: [{ place: 'A5', state: 'straight' }] };
		expect(chance(sound, 'port-contacts')).toBeLessThan(chance({}, 'port-contacts') / 1.5);
	});
	it('an empty shop is told that it knows little: the interval is wide', () => {
		const [first] = oddsOf({ inspection: [{ place: 'A5', state: 'folded' }] }).faults;
		expect(first!.high - first!.low).toBeGreaterThan(0.5);
		expect(first!.from).toBe(0);
	});
});
