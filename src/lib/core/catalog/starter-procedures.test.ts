import { describe, expect, it } from 'vitest';
import { knownIn } from '../evidence/known-codes';
import { unmetOf } from '../exchange/check-references';
import { buildCatalog } from './catalog';
import { catalogKind, type CatalogRecordOf } from './kinds';
import { STARTER_CATALOG } from './starter-catalog';
import { STARTER_PROCEDURES } from './starter-procedures';

const catalog = buildCatalog(STARTER_CATALOG);
const procedures = STARTER_PROCEDURES as readonly CatalogRecordOf<'procedure'>[];
const named = procedures.map((procedure) => [procedure.code, procedure] as const);

describe('procedures that ship with the starter catalog', () => {
	it('are the ways of the trade, each for its operation', () => {
		expect(Object.fromEntries(procedures.map(({ code, operation }) => [code, operation]))).toEqual({
			'port-hot-air': 'replace-port',
			'port-low-melt': 'replace-port',
			'port-cut-and-draw': 'replace-port',
			'port-off-look': 'remove-port',
			'port-on-flex': 'replace-port',
			'flex-swap': 'fit-charge-flex',
			'pads-jumpers-first': 'rebuild-traces',
			'traces-keep-port': 'rebuild-traces',
			'single-track': 'jumper-track',
			'plug-bent-back': 'bend-battery-connector',
			'battery-connector-new': 'fit-battery-connector',
			'pack-woken': 'wake-pack',
			'controller-swap': 'replace-port-controller',
			'charger-swap': 'replace-charger',
			'display-chip-swap': 'replace-display-controller',
			'other-chip-swap': 'replace-chip',
			'rework-comeback': 'reflow-port',
			'battery-fit': 'replace-battery',
			'board-cleaned': 'clean-board',
			'donor-port': 'replace-port'
		});
	});
	it.each(named)('%s is well said and names what the starter catalog holds', (_, procedure) => {
		expect(catalogKind('procedure').schema.safeParse(procedure).error).toBeUndefined();
		expect(unmetOf('procedure', procedure, knownIn(catalog))).toEqual([]);
		for (const { station } of procedure.steps)
			if (station) expect([...catalog.stations.keys()]).toContain(station);
	});
	it('one way of each operation at most is the usual one', () => {
		const usual = procedures.filter((procedure) => procedure.usual).map(({ operation }) => operation);
		expect(new Set(usual).size).toBe(usual.length);
	});
	it.each(named.filter(([, { operation }]) => operation === 'replace-port'))(
		'%s stops between the old port and the new one until the board was measured',
		(_, { steps }) => {
			const fitted = steps.findIndex(({ sku }) => sku === 'port-smd');
			const measured = steps.findIndex(({ kind, must }) => kind === 'measure' && must);
			const off = steps.findIndex(({ says }) => /falls|slides off|Draw pin by pin/.test(says));
			expect(off).toBeGreaterThanOrEqual(0);
			expect(measured).toBeGreaterThan(off);
			expect(fitted).toBeGreaterThan(measured);
			const looked = steps
				.slice(off, fitted)
				.some(({ kind, must, says }) => kind === 'look' && must && /count/.test(says));
			expect(looked).toBe(true);
		}
	);
	it.each(named.filter(([, { steps }]) => steps.some(({ kind }) => kind === 'heat')))(
		'%s takes the battery out of the circuit before any heat',
		(_, { steps }) => {
			const out = steps.findIndex(
				({ kind, must, says }) => kind === 'caution' && must && /Battery/.test(says)
			);
			expect(out).toBeGreaterThanOrEqual(0);
			expect(out).toBeLessThan(steps.findIndex(({ kind }) => kind === 'heat'));
		}
	);
	it('a pack is woken watched and limited, and never under 1.5 V a cell', () => {
		const woken = procedures.find(({ code }) => code === 'pack-woken');
		const cautions = woken?.steps
			.filter(({ kind }) => kind === 'caution')
			.map(({ says }) => says)
			.join(' ');
		expect(cautions).toMatch(/limited/);
		expect(cautions).toMatch(/watched/);
		expect(cautions).toMatch(/swollen, hot or punctured/);
		expect(cautions).toMatch(/1\.5 V per cell/);
	});
});
