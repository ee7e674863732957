import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Database } from '$lib/server/database/connection';
import { paperView, SHEETS } from '$lib/server/tickets/paper-view';
import { ticketView } from '$lib/server/tickets/view';
import { changed, NOW, smallShop, takenIn } from './small-shop';

let db: Database;
beforeAll(async () => {
	db = await smallShop();
});
afterAll(() => db.destroy());
const taken = () => takenIn(db);
const change = (number: string, input: Parameters<typeof changed>[2]) => changed(db, number, input);

describe('papers of a ticket', () => {
	it('a label and a receipt are told from the ticket alone, a quote names likely work, a job sheet all of it', async () => {
		const number = await taken();
		const seen = await Promise.all(SHEETS.map((sheet) => paperView(db, number, 'technician', sheet)));
		const has = (key: 'advice' | 'bench') => SHEETS.filter((_, i) => (seen[i]?.[key] ?? null) !== null);
		expect(has('advice')).toEqual(['sheet', 'quote']);
		expect(has('bench')).toEqual(['sheet']);
		const view = await ticketView(db, number, 'technician', NOW);
		const [sheet] = seen;
		expect(sheet?.bench).toEqual({ trail: view?.trail, gates: view?.gates });
		expect(sheet?.advice?.odds).toEqual(view?.odds);
		expect(seen.map((paper) => paper?.modelLabel)).toEqual(SHEETS.map(() => view?.modelLabel));
		expect(seen.map((paper) => paper?.ticket)).toEqual(SHEETS.map(() => view?.ticket));
		expect(await paperView(db, 'K-99999', 'manager', 'label')).toBeNull();
	});
	it('show no cost to who sees none', async () => {
		const number = await taken();
		await change(number, {
			verb: 'attempt',
			operation: 'replace-port',
			technician: 'ines',
			minutes: 10,
			resolved: false,
			parts: [{ sku: 'port-smd', quantity: 1 }]
		});
		const costOf = async (role: 'manager' | 'technician') =>
			(await paperView(db, number, role, 'sheet'))?.ticket.parts[0]?.unitCostMinor;
		expect(await costOf('manager')).toBeGreaterThan(0);
		expect(await costOf('technician')).toBeUndefined();
	});
});
