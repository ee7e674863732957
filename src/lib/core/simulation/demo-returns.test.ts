import { describe, expect, it } from 'vitest';
import { CATALOG_KINDS, type CatalogRecordOf } from '../catalog/kinds';
import { comebackAlarms, comebackEffects } from '$worlds/comebacks-in-one-go';
import { comebackRate } from '../comebacks/comeback-rate';
import { fairRatio } from '../returns/fair-ratio';
import { followedJobs } from '../returns/followed-jobs';
import { simulateShop } from './demo-shop';

/** The demo shop has a lot that fails, a way of working that does not hold and somebody who gets the torn pads. */
describe.each([Date.UTC(2026, 11, 6, 12), Date.UTC(2026, 11, 9, 13), Date.UTC(2026, 11, 12, 14)])(
	'the demo shop that ends at %i',
	(endsAt) => {
		const shop = simulateShop({ seed: 4600, endsAt, count: 1400, troubled: true });
		const causes = new Map(
			(shop.records as { record: string; code: string; counts?: boolean }[])
				.filter(({ record }) => record === 'cause')
				.map(({ code, counts = true }) => [code, { counts }])
		);
		const jobs = followedJobs(
			shop.tickets.map((ticket) => ({
				...ticket,
				cause: ticket.cause ?? null,
				operations: ticket.attempts.map(({ operation }) => operation),
				technicians: ticket.attempts.flatMap(({ technician }) => technician ?? []),
				parts: ticket.parts.map(({ sku }) => sku),
				lots: ticket.parts.flatMap(({ lot }) => lot ?? []),
				sources: [],
				suppliers: [],
				methods: [...new Set(ticket.steps.map(({ procedure }) => procedure))],
				month: null
			})),
			endsAt,
			causes
		);
		it('finds the lot and the way of working, and accuses nobody', () => {
			const lots = shop.records as CatalogRecordOf<'lot'>[];
			const bad = lots.find(
				({ record, sku, quantity }) => record === 'lot' && sku === 'port-smd' && quantity === 75
			);
			const alarms = comebackAlarms(jobs, endsAt);
			expect([...alarms.lot.keys()]).toEqual([bad?.code]);
			expect([...alarms.method.keys()]).toEqual(['port-low-melt']);
			expect([...alarms.technician.keys()]).toEqual([]);
		});
		it('who gets the torn pads is as good as the others, once what he gets is counted', () => {
			const pads = (who: string) =>
				jobs.filter(
					({ levels }) => levels.operation.includes('rebuild-traces') && levels.technician.includes(who)
				).length;
			expect(pads('tomasz')).toBeGreaterThan(2 * pads('ines'));
			const fair = fairRatio(comebackEffects(jobs), 'technician', 'tomasz');
			expect(fair?.low).toBeLessThan(1);
			expect(fair?.chance_worse).toBeLessThan(0.9);
			const rebuilt = jobs.filter(({ levels }) => levels.operation.includes('rebuild-traces'));
			expect(comebackRate(rebuilt, 90).rate).toBeGreaterThan(comebackRate(jobs, 90).rate);
		});
	}
);

describe('words to customers of the demo shop', () => {
	const { records, tickets } = simulateShop({
		seed: 4600,
		endsAt: Date.UTC(2026, 11, 6, 12),
		count: 400,
		troubled: true
	});
	it('some read German, and there are words for them', () => {
		const readers = tickets.filter(({ customer }) => customer?.language === 'de');
		expect(readers.length).toBeGreaterThan(0);
		for (const { customer } of readers) expect(customer?.hears_by).toBe('mail');
		const templates = (records as CatalogRecordOf<'template'>[]).filter(
			({ record }) => record === 'template'
		);
		expect(templates.map(({ about, language }) => `${about} ${language}`)).toEqual([
			'taken-in de',
			'ready de'
		]);
		for (const template of templates) CATALOG_KINDS.template.schema.parse(template);
	});
});
