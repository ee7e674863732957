import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import type { CatalogRecord } from '../catalog/kinds';
import { fresh, NOW } from '$worlds/changed-tickets';
import { DEMO_CATALOG } from '../simulation/demo-catalog';
import { DAY_MS } from '../units/instant';
import type { Ticket } from './ticket-record';
import { warrantyAt, warrantyOf, warrantyWords, type Warranty } from './warranty';

const shop = DEMO_CATALOG.find(({ record }) => record === 'shop') as CatalogRecord & { record: 'shop' };
const operation = DEMO_CATALOG.find(
	(record) => record.record === 'operation' && record.code === 'replace-port'
) as CatalogRecord & { record: 'operation' };
const catalog = buildCatalog([
	...DEMO_CATALOG,
	{ ...shop, warranty_days: 90, part_warranty: { aftermarket: 30, pulled: 400 } },
	{ ...operation, warranty_days: 60 }
]);
const day = (at: number | null | undefined) => (at == null ? null : Math.round((at - NOW) / DAY_MS));
const closed: Ticket = {
	...fresh,
	closedAt: NOW,
	outcome: 'fixed',
	faults: ['port-contacts'],
	attempts: [{ operation: 'reflow-port', resolved: true }],
	parts: []
};
const use = (sku: string, lot?: string) => ({
	sku,
	quantity: 1,
	unitCostMinor: 390,
	...(lot ? { lot } : {})
});

describe('how long a job is under warranty', () => {
	it.each<[string, Partial<Ticket>, number, number | null]>([
		['the shop’s days where the operation says none', {}, 90, null],
		['the operation’s', { attempts: [{ operation: 'replace-port', resolved: true }] }, 60, null],
		[
			'the shortest of several that worked',
			{ attempts: [{ operation: 'replace-port', resolved: false, part: true }, ...closed.attempts] },
			60,
			null
		],
		[
			'one that failed does not count',
			{ attempts: [{ operation: 'replace-port', resolved: false }, ...closed.attempts] },
			90,
			null
		],
		['a part as long as the work', { parts: [use('port-smd')] }, 90, 90],
		['a part by its source', { parts: [use('battery-pack')] }, 90, 30],
		['by its lot’s source before the part’s', { parts: [use('battery-pack', 'l-1')] }, 90, 400],
		['the first that ends of several', { parts: [use('port-smd'), use('battery-pack')] }, 90, 30],
		['what is charged by the job is no part', { parts: [use('jumper-wire')] }, 90, null],
		['from handing over on', { dealings: [{ kind: 'pick-up', at: NOW + 5 * DAY_MS }] }, 95, null],
		[
			'as the accepted offer says',
			{
				dealings: [
					{
						kind: 'offer',
						offered: [
							{ label: 'a', priceMinor: 1 },
							{ label: 'b', priceMinor: 2, warrantyDays: 14 }
						],
						at: NOW
					},
					{ kind: 'answer', accepted: true, option: 1, at: NOW }
				]
			},
			14,
			null
		]
	])('%s', (_, more, work, parts) => {
		const warranty = warrantyOf(
			{ ...closed, ...more },
			catalog,
			new Map([['l-1', { source: 'pulled' as const }]])
		);
		expect([day(warranty?.workUntil), day(warranty?.partsUntil)]).toEqual([work, parts]);
	});
	it.each<Partial<Ticket>>([
		{ outcome: 'not-fixed' },
		{ outcome: 'declined' },
		{ closedAt: null, outcome: null }
	])('nothing fixed, nothing under warranty: %o', (more) =>
		expect(warrantyOf({ ...closed, ...more }, catalog)).toBeNull()
	);
});

describe('what is said of a device that comes back', () => {
	const both = (work: number, parts: number | null): Warranty => ({
		from: NOW,
		workUntil: NOW + work * DAY_MS,
		partsUntil: parts === null ? null : NOW + parts * DAY_MS
	});
	it.each<[number, number | null, number, string, RegExp]>([
		[90, null, 90, 'free', /until d90: free/],
		[90, null, 90.01, 'new', /ended d90/],
		[90, 30, 30, 'free', /until d30: free/],
		[90, 30, 31, 'shared', /work is under warranty until d90.*the work is free/],
		[90, 400, 91, 'shared', /part is under warranty until d400.*the part is free/],
		[90, 400, 401, 'new', /ended d400/]
	])('work %i days, parts %s, after %f: %s', (work, parts, after, state, words) => {
		const found = warrantyAt(both(work, parts), NOW + after * DAY_MS);
		expect(found.state).toBe(state);
		expect(warrantyWords(found, (at) => `d${day(at)}`)).toMatch(words);
	});
});
