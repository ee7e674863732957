import { describe, expect, it } from 'vitest';
import { knownIn } from '../evidence/known-codes';
import { buildCatalog } from './catalog';
import { catalogKey, type CatalogRecord } from './kinds';
import { STARTER_CATALOG } from './starter-catalog';
import { offeredOf, takenOf } from './starter-offer';

const names = (records: readonly CatalogRecord[]) =>
	records.map((record) => `${record.record} ${catalogKey(record)}`);
/** a shop of the release before: it knows fuse and port, and has its own words for them */
const OWN: CatalogRecord[] = [
	{ record: 'fault', code: 'input-fuse', label: 'Our fuse' },
	{ record: 'fault', code: 'port-contacts', label: 'Our port' },
	{ record: 'test', code: 'vbus-fuse', label: 'Fuse', minutes: 3, outcomes: ['through', 'open'] }
];
const shop = buildCatalog(OWN);

describe('what is new in the starter catalog', () => {
	it('is offered where the shop does not hold it, and only there', () => {
		const offered = names(offeredOf(shop));
		expect(offered).toContain('fault accessory');
		expect(offered).not.toContain('fault input-fuse');
		expect(offered).not.toContain('test vbus-fuse');
		expect(offeredOf(buildCatalog(STARTER_CATALOG))).toEqual([]);
	});
	it('is taken with what it names, and with the beliefs about what is there then', () => {
		const taken = takenOf(shop, new Set(['operation swap-accessory']), knownIn);
		expect(names(taken)).toEqual(expect.arrayContaining(['operation swap-accessory', 'fault accessory']));
		expect(names(taken)).not.toContain('fault software');
		const about = taken.flatMap((record) => (record.record === 'expectation' ? [record.given] : []));
		expect(new Set(about)).toEqual(new Set([undefined, 'accessory', 'input-fuse', 'port-contacts']));
		// signs were not taken: nothing is believed of them
		expect(taken.some((record) => record.record === 'expectation' && record.sign !== undefined)).toBe(false);
	});
	it('writes over nothing of the shop', () => {
		const all = new Set(names(offeredOf(shop)));
		const taken = names(takenOf(shop, all, knownIn));
		for (const own of names(OWN)) expect(taken).not.toContain(own);
		const after = buildCatalog([...OWN, ...takenOf(shop, all, knownIn)]);
		expect(after.faults.get('input-fuse')?.label).toBe('Our fuse');
		expect(after.faults.size).toBe(22);
		expect(offeredOf(after)).toEqual([]);
	});
	it('a second fault for all others is not taken', () => {
		const own = buildCatalog([...OWN, { record: 'fault', code: 'odd', label: 'Odd', catch_all: true }]);
		expect(names(takenOf(own, new Set(['fault other', 'fault software']), knownIn))).toContain(
			'fault software'
		);
		expect(names(takenOf(own, new Set(['fault other', 'fault software']), knownIn))).not.toContain(
			'fault other'
		);
	});
});
