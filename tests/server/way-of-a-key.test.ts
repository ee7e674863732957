import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ticketChangeSchema, type TicketChangeInput } from '$lib/core/tickets/ticket-change';
import { withSlice, withSplice } from '$lib/core/tickets/slices';
import { DEMO_CATALOG } from '$lib/core/simulation/demo-catalog';
import type { Database } from '$lib/server/database/connection';
import { readCounters } from '$lib/server/database/counters';
import { openSession, readSession } from '$lib/server/identity/sessions';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { changeTicket } from '$lib/server/tickets/change-ticket';
import { findTicket } from '$lib/server/tickets/queries';
import { ticketView, viewSlices } from '$lib/server/tickets/view';
import { changed, ines, NOW, smallShop, takenIn } from './small-shop';

let db: Database;
let token: string;

beforeAll(async () => {
	db = await smallShop();
	const row = (await db('users').where({ sign_in: 'ines' }).first('id')) as { id: number };
	token = await openSession(db, NOW, row.id);
});
afterAll(() => db.destroy());

const taken = (model?: string) => takenIn(db, model);
const change = (number: string, input: TicketChangeInput, now?: number) => changed(db, number, input, now);
const reading = (
	pin: string,
	value: number,
	stage: 'diagnosis' | 'closing' = 'diagnosis'
): TicketChangeInput => ({ verb: 'read-pins', stage, mode: 'diode', readings: [{ pin, value }] });

describe('the way of one key', () => {
	it('eight statements at most, eight kilobytes at most, and no counter of the shop', async () => {
		const number = await taken();
		// a price that was answered: the ticket teaches already, and its readings teach nothing more
		await change(number, { verb: 'quote', priceMinor: 9900 });
		await change(number, { verb: 'answer', accepted: true });
		for (const pin of ['A1', 'A2', 'A3']) await change(number, reading(pin, 0.5));
		await shopMemory(db);
		const before = await readCounters(db);
		const statements: string[] = [];
		const listen = ({ sql }: { sql: string }) => statements.push(sql);
		const version = (await findTicket(db, number))?.version ?? 0;
		db.on('query', listen);
		await readSession(db, NOW, token);
		const answer = await changeTicket(db, ines, NOW, number, {
			version,
			once: crypto.randomUUID(),
			change: ticketChangeSchema.parse(reading('A4', 0.468))
		});
		if (!answer.ok || answer.repeated) throw new Error('refused');
		const slices = await viewSlices(db, answer, 'read-pins', 'technician', NOW);
		db.removeListener('query', listen);
		expect(statements.length, statements.join('\n')).toBeLessThanOrEqual(8);
		expect(JSON.stringify({ ok: true, version, slices }).length).toBeLessThanOrEqual(8 * 1024);
		expect(await readCounters(db)).toEqual(before);
	});
	it('what it carries makes the screen what a reload would', async () => {
		const number = await taken();
		const view = await ticketView(db, number, 'technician', NOW);
		const inputs: TicketChangeInput[] = [
			reading('A4', 0.468),
			{ verb: 'battery', stage: 'intake', volts: 3.7 },
			{ verb: 'probe-node', node: 'fuse-out', volts: 5 },
			{
				verb: 'attempt',
				operation: 'replace-port',
				technician: 'ines',
				minutes: 9,
				resolved: true,
				parts: [{ sku: 'port-smd', quantity: 1 }]
			},
			{ verb: 'quote', priceMinor: 9900 },
			{ verb: 'withdraw', list: 'battery', index: 0 }
		];
		let shown = view;
		for (const input of inputs) {
			const answer = await change(number, input);
			const slices = await viewSlices(db, answer, input.verb, 'technician', NOW);
			const { ticket, trail, beside, ...rest } = JSON.parse(JSON.stringify(slices)) as typeof slices;
			shown = shown && {
				...shown,
				...beside,
				...rest,
				ticket: withSlice(shown.ticket, ticket),
				trail: trail ? withSplice(shown.trail, trail) : shown.trail
			};
			const whole = JSON.parse(
				JSON.stringify(await ticketView(db, number, 'technician', NOW))
			) as NonNullable<typeof view>;
			for (const key of [
				'ticket',
				'trail',
				'version',
				'gates',
				'path',
				'plug',
				'expected',
				'meters',
				'boards'
			] as const)
				expect(shown?.[key], `${input.verb} ${key}`).toEqual(whole[key]);
			expect(shown?.odds.faults.map(({ code, probability }) => [code, probability])).toEqual(
				whole.odds.faults.map(({ code, probability }) => [code, probability])
			);
			if (input.verb === 'quote') expect(shown?.price).toEqual(whole.price);
		}
		// what a role must not see is in no slice
		const answer = await change(number, { verb: 'use-part', sku: 'port-smd', quantity: 2 });
		expect(JSON.stringify(await viewSlices(db, answer, 'use-part', 'technician', NOW))).not.toMatch(
			/unitCostMinor|hourlyCostMinor|costMinor/
		);
	});
	it('the shop’s counter moves when what is taught changes', async () => {
		const number = await taken();
		const history = async () => (await readCounters(db)).history;
		const moved = async (input: TicketChangeInput) => {
			const before = await history();
			await change(number, input);
			return (await history()) - before;
		};
		expect(await moved({ verb: 'quote', priceMinor: 5000 })).toBe(0);
		expect(await moved({ verb: 'answer', accepted: true })).toBe(1);
		expect(await moved({ verb: 'battery', stage: 'intake', volts: 3.7 })).toBe(0);
		expect(await moved({ verb: 'close', outcome: 'not-fixed', faults: ['input-fuse'], paidMinor: 0 })).toBe(
			1
		);
		expect(await moved({ verb: 'note', text: 'called' })).toBe(0);
		expect(await moved({ verb: 'reopen' })).toBe(1);
	});
});

describe('what a closing did in the shop is taken back with it', () => {
	const known = async (number: string) =>
		[...((await shopMemory(db)).shelf.byModel.get('blank') ?? [])]
			.filter(({ reference }) => reference.ticket === number)
			.map(
				({ reference }) =>
					`${reference.pin} ${reference.value} ${reference.grade}${reference.withdrawn ? ` (${reference.withdrawn.because})` : ''}`
			)
			.sort();
	it('reopened, proven readings count no more, promoted and refuted ones are as before; closed again, all is as it was', async () => {
		const number = await taken('blank');
		const at = (minutes: number) => NOW + minutes * 60_000;
		for (const [pin, value] of [
			['A4', 0.47],
			['A5', 0.7]
		] as const)
			await change(number, reading(pin, value), at(1));
		await change(number, { verb: 'keep-provisional', mode: 'diode' }, at(2));
		const before = await known(number);
		expect(before).toEqual(['A4 0.47 provisional', 'A5 0.7 provisional']);
		for (const [pin, value] of [
			['A4', 0.472],
			['A5', 0.4],
			['B4', 0.471]
		] as const)
			await change(number, reading(pin, value, 'closing'), at(3));
		for (const gate of DEMO_CATALOG.flatMap((record) => (record.record === 'gate' ? [record.code] : [])))
			await change(number, { verb: 'gate', gate, passed: true }, at(4));
		const close = () =>
			change(number, { verb: 'close', outcome: 'fixed', faults: ['coil-open'], paidMinor: 0 }, at(5));
		await close();
		const closed = [
			'A4 0.47 verified',
			'A5 0.4 verified',
			'A5 0.7 provisional (the device read otherwise once it was repaired)',
			'B4 0.471 verified'
		];
		expect(await known(number)).toEqual(closed);
		await change(number, { verb: 'reopen' }, at(6));
		expect(await known(number)).toEqual([
			'A4 0.47 provisional',
			`A5 0.4 verified (${number} was reopened)`,
			'A5 0.7 provisional',
			`B4 0.471 verified (${number} was reopened)`
		]);
		await change(number, { verb: 'close-again' }, at(7));
		expect(await known(number)).toEqual(closed);
		await change(number, { verb: 'reopen' }, at(8));
		await close();
		expect(await known(number)).toEqual(closed);
	});
	it('a provisional reading that is struck out on its ticket counts no more, put back it stands in again', async () => {
		const number = await taken('blank');
		await change(number, reading('A8', 0.61));
		await change(number, { verb: 'keep-provisional', mode: 'diode' });
		await change(number, { verb: 'withdraw', list: 'readings', index: 0 });
		expect(await known(number)).toEqual([`A8 0.61 provisional (it was struck out on ${number})`]);
		await change(number, { verb: 'put-back', index: 0 });
		expect(await known(number)).toEqual(['A8 0.61 provisional']);
	});
});
