import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { CATALOG_KINDS } from '$lib/core/catalog/kinds';
import { STARTER_CATALOG } from '$lib/core/catalog/starter-catalog';
import { DAY_MS, MINUTE_MS } from '$lib/core/units/instant';
import { ticketFromRecord, type Ticket } from '$lib/core/tickets/ticket-record';
import { clopperPearsonInterval } from '$lib/core/statistics/rate-interval';
import { catalogNow } from '$lib/server/catalog/queries';
import type { Database } from '$lib/server/database/connection';
import type { Row } from '$lib/server/database/tables';
import { asJson } from '$lib/server/database/json';
import type { ComebacksBy } from '$lib/core/returns/comeback-rows';
import { newestAlarms } from '$lib/core/returns/newest-alarms';
import { comebacksBy, momentMeant } from '$lib/server/returns/comebacks';
import { importLines } from '$lib/server/exchange/import';
import { migrate } from '$lib/server/database/migrate';
import { clearAlarm, makeClaim, settleClaim } from '$lib/server/returns/commands';
import { returnsView } from '$lib/server/returns/view';
import { findTicket } from '$lib/server/tickets/queries';
import { ticketView } from '$lib/server/tickets/view';
import { freshDatabase, freshDatabaseUrl } from './fresh-database';
import { shelfStore } from '$lib/server/stock/queries';
import { changed, NOW, smallShop, takenIn, jsonLines } from './small-shop';

let db: Database;
let tickets: Ticket[];
beforeAll(async () => {
	db = await smallShop();
	const causes = { 'another-fault': 0.3, 'same-again': 0.4 };
	let n = 0;
	for (const number of (await db('tickets').whereNotNull('comeback_of').pluck('number')) as string[]) {
		const cause = Object.keys(causes)[n++ % 2] as string;
		await changed(db, number, { verb: 'cause', cause });
	}
	const rows = (await db('tickets').select('record')) as { record: unknown }[];
	tickets = rows.map(({ record }) => ticketFromRecord(asJson(record)));
});
afterAll(() => db.destroy());

/** The contract's words once more, plainly: for each job of a row until when it was followed, then the product limit by hand. */
async function byHand(by: ComebacksBy, days: number, asOf: number) {
	const catalog = await catalogNow(db);
	const { lots } = await shelfStore(db);
	const counts = (cause: string | undefined) =>
		cause === undefined || (catalog.records.cause.get(cause)?.counts ?? true);
	const atRisk = tickets.filter(
		({ outcome, closedAt }) => outcome === 'fixed' && (closedAt ?? Infinity) < asOf
	);
	const rows = new Map<string, { time: number; event: boolean }[]>();
	for (const ticket of atRisk) {
		const closed = ticket.closedAt as number;
		const backs = tickets
			.filter(
				(other) => other.comebackOf === ticket.number && other.openedAt < asOf && other.openedAt >= closed
			)
			.filter(({ cause }) => counts(cause))
			.map(({ openedAt }) => openedAt);
		const event = backs.length > 0;
		const time = ((event ? Math.min(...backs) : asOf) - closed) / DAY_MS;
		const source = ({ sku, lot }: Ticket['parts'][number]) =>
			lots.find(({ code }) => code === lot)?.source ?? catalog.parts.get(sku)?.source;
		const keys: Record<ComebacksBy, (string | undefined)[]> = {
			shop: ['shop'],
			operation: ticket.attempts.map(({ operation }) => operation),
			technician: ticket.attempts.map(({ technician }) => technician),
			part: ticket.parts.map(({ sku }) => sku),
			lot: ticket.parts.map(({ lot }) => lot),
			source: ticket.parts.map(source),
			model: [ticket.model],
			method: ticket.steps.filter(({ did }) => did === 'done').map(({ procedure }) => procedure),
			supplier: ticket.parts.map(
				({ sku, lot }) => lots.find(({ code }) => code === lot)?.supplier ?? catalog.parts.get(sku)?.supplier
			),
			month: [new Date(closed).toLocaleDateString('sv', { timeZone: catalog.shop.timeZone }).slice(0, 7)]
		};
		for (const key of new Set(keys[by])) if (key) rows.set(key, [...(rows.get(key) ?? []), { time, event }]);
	}
	return new Map([...rows].map(([key, jobs]) => [key, rateByHand(jobs, days)]));
}

function rateByHand(jobs: { time: number; event: boolean }[], days: number) {
	const times = [
		...new Set(jobs.filter(({ event, time }) => event && time <= days).map(({ time }) => time))
	].sort((a, b) => a - b);
	let [survival, sum] = [1, 0];
	for (const time of times) {
		const n = jobs.filter((job) => job.time >= time).length;
		const d = jobs.filter((job) => job.event && job.time === time).length;
		survival *= (n - d) / n;
		sum += d / (n * (n - d));
	}
	const comebacks = jobs.filter(({ event, time }) => event && time <= days).length;
	const base = { jobs: jobs.length, comebacks, rate: 1 - survival };
	if (comebacks === 0) {
		const long = jobs.filter(({ time }) => time >= days).length;
		return { ...base, low: 0, high: long === 0 ? null : clopperPearsonInterval(0, long).high };
	}
	if (survival === 0) return { ...base, low: null, high: null };
	const half = (1.959963984540054 * Math.sqrt(sum)) / Math.log(survival);
	const ends = [half, -half].map((h) => 1 - survival ** Math.exp(h)).sort((a, b) => a - b);
	return { ...base, low: ends[0], high: ends[1] };
}

describe('comebacks', () => {
	const kinds: ComebacksBy[] = ['shop', 'operation', 'part', 'lot', 'source', 'technician', 'model'];
	it.each(kinds)('by %s: every row, for any days and moment, is what the words say', async (by) => {
		for (const [days, back] of [
			[90, 0],
			[14, 0],
			[0.5, 40],
			[400, 200]
		] as const) {
			const asOf = NOW - back * DAY_MS;
			const { rows, jobs } = await comebacksBy(db, { by, days, asOf });
			const expected = await byHand(by, days, asOf);
			expect(new Set(rows.map(({ key }) => key))).toEqual(new Set(expected.keys()));
			if (by === 'shop') expect(jobs).toBe(expected.get('shop')?.jobs);
			for (const row of rows) {
				const own = expected.get(row.key);
				expect([row.jobs, row.comebacks], row.key).toEqual([own?.jobs, own?.comebacks]);
				for (const field of ['rate', 'low', 'high'] as const) {
					if (own?.[field] == null) expect(row[field], `${row.key} ${field}`).toBeNull();
					else expect(row[field], `${row.key} ${field}`).toBeCloseTo(own[field] as number, 9);
				}
				expect(row.fair?.ratio).toBeGreaterThan(0);
			}
		}
	});
	it('a comeback that is linked while its ticket is open counts at once; a cause that does not speak against the work takes it back', async () => {
		const [first] = tickets.filter(
			({ outcome, number }) => outcome === 'fixed' && !tickets.some(({ comebackOf }) => comebackOf === number)
		);
		const before = await comebacksBy(db, { by: 'shop', days: 10_000, asOf: NOW + DAY_MS });
		const number = await takenIn(db, first?.model);
		await changed(db, number, { verb: 'comeback', of: first?.number ?? '' });
		const after = await comebacksBy(db, { by: 'shop', days: 10_000, asOf: NOW + DAY_MS });
		expect(after.comebacks).toBe(before.comebacks + 1);
		await changed(db, number, { verb: 'cause', cause: 'wet-again' });
		expect((await comebacksBy(db, { by: 'shop', days: 10_000, asOf: NOW + DAY_MS })).comebacks).toBe(
			before.comebacks
		);
		await expect(changed(db, number, { verb: 'cause', cause: 'gone' })).rejects.toThrow(/names the cause/);
		await changed(db, number, { verb: 'comeback', of: null });
		expect((await db('tickets').where({ number }).first('cause'))?.cause).toBeNull();
		await expect(changed(db, number, { verb: 'cause', cause: 'wet-again' })).rejects.toThrow(/link it first/);
	});
});

describe('the moment meant by who names none', () => {
	const minute = 1000 * MINUTE_MS;
	it.each<[string, number[], number, number]>([
		['the full minute', [], minute + 59_999, minute],
		['at the very minute', [], minute, minute],
		['just after what happened since', [minute + 5, minute + 30_000], minute + 40_000, minute + 30_001],
		['what happened before the minute', [minute - 1], minute + 40_000, minute],
		['what is still to come', [minute + 50_000], minute + 40_000, minute]
	])('%s', (_, moments, now, meant) => {
		const at = (openedAt: number) => ({ openedAt, closedAt: null });
		expect(momentMeant(moments.map(at), now)).toBe(meant);
		const closed = moments.map((closedAt) => ({ openedAt: 0, closedAt }));
		expect(momentMeant(closed, now)).toBe(meant);
	});
	it('calls one after the other are about the same one', async () => {
		const [first, second] = [
			await comebacksBy(db, { by: 'lot', days: 90, asOf: null }),
			await comebacksBy(db, { by: 'lot', days: 90, asOf: null })
		];
		expect(first.asOf).toBeLessThanOrEqual(Date.now());
		expect(second.asOf - first.asOf).toBeLessThanOrEqual(MINUTE_MS);
		expect(first.rows.length).toBeGreaterThan(0);
	});
});

describe('the screen', () => {
	const asked = { by: 'lot' as const, row: null, days: 90, now: NOW, only: null };
	it('a shop that did nothing yet has a page without rows, and the call answers', async () => {
		const empty = await freshDatabase();
		const lines = STARTER_CATALOG.map((record) => JSON.stringify(record)).join('\n');
		await importLines(empty, 'test', NOW, lines);
		const view = await returnsView(empty, asked);
		expect([view.rows, view.alarms, view.shop.jobs]).toEqual([[], [], 0]);
		expect((await comebacksBy(empty, { by: 'operation', days: 90, asOf: null })).rows).toEqual([]);
		await empty.destroy();
	});
	it('its rows are those of the call, at the beginning of the hour', async () => {
		const view = await returnsView(db, { ...asked, now: NOW + 1000 });
		const call = await comebacksBy(db, { by: 'lot', days: 90, asOf: NOW });
		expect(view.asOf).toBe(NOW);
		expect(view.rows).toEqual(call.rows);
		expect(view.shop.jobs).toBe(call.jobs);
		expect(view.chosen.rate).toEqual(view.shop);
		expect(view.advice?.lengths.length).toBeGreaterThan(3);
	});
	it('the newest early warnings are told, of older ones how many of each kind', () => {
		const rang = (
			['lot', 'lot', 'operation', 'lot', 'technician', 'lot', 'lot', 'lot', 'operation'] as const
		).map((of, at) => ({ of, at }));
		const { newest, olderAlarms } = newestAlarms(rang);
		expect(newest.map(({ at }) => at)).toEqual([8, 7, 6, 5, 4, 3]);
		expect(olderAlarms).toEqual([
			{ of: 'operation', count: 1 },
			{ of: 'lot', count: 2 }
		]);
		expect(newestAlarms(rang.slice(0, 6)).olderAlarms).toEqual([]);
	});
	it('a row closer: its curve ends at its rate, its causes are its comebacks', async () => {
		const { rows } = await returnsView(db, { ...asked, by: 'operation', days: 180 });
		const row = [...rows].sort((a, b) => b.comebacks - a.comebacks)[0]?.key ?? '';
		const { chosen } = await returnsView(db, { ...asked, by: 'operation', row, days: 180 });
		expect(chosen.key).toBe(row);
		expect(chosen.curve.at(-1)?.rate).toBeCloseTo(chosen.rate.rate, 12);
		expect(chosen.causes.reduce((sum, { comebacks }) => sum + comebacks, 0)).toBe(chosen.rate.comebacks);
		expect(chosen.rate.comebacks).toBeGreaterThan(0);
		const shop = await returnsView(db, { ...asked, by: 'operation', row: 'no-such' });
		expect(shop.chosen.key).toBeNull();
	});
	it('who sees his own numbers sees nobody else’s, and no money', async () => {
		const view = await returnsView(db, { ...asked, by: 'technician', only: 'ines' });
		expect(view.rows.map(({ key }) => key)).toEqual(['ines']);
		expect(view.advice).toBeNull();
		expect(
			(await returnsView(db, { ...asked, by: 'technician', row: 'noor', only: 'ines' })).chosen.key
		).toBeNull();
		expect((await returnsView(db, { ...asked, by: 'technician' })).rows.length).toBeGreaterThan(2);
	});
});

describe('a comeback, told apart', () => {
	it('its cause says what it came from; named of another job it goes', async () => {
		const first = (await db('tickets')
			.where({ outcome: 'fixed' })
			.whereNotNull('serial')
			.first('number')) as {
			number: string;
		};
		const number = await takenIn(db);
		await changed(db, number, { verb: 'comeback', of: first.number });
		const from = { sku: 'port-smd', pays: 'supplier' as const };
		await changed(db, number, { verb: 'cause', cause: 'part-failed', from });
		expect((await findTicket(db, number))?.ticket).toMatchObject({ cause: 'part-failed', cameFrom: from });
		const { lot } = (await db('part_uses').whereNotNull('lot').first('lot')) as { lot: string };
		await changed(db, number, { verb: 'cause', cause: 'part-failed', from: { ...from, lot } });
		expect((await findTicket(db, number))?.ticket.cameFrom?.lot).toBe(lot);
		await expect(
			changed(db, number, { verb: 'cause', cause: 'part-failed', from: { ...from, lot: 'l-none' } })
		).rejects.toThrow(/never on the shelf/);
		const view = await ticketView(db, first.number, 'manager', NOW);
		expect(view?.comebacks).toContainEqual({ number, cause: 'The part failed' });
		const own = await ticketView(db, number, 'counter', NOW);
		expect(own?.first?.number).toBe(first.number);

		const claim = { ticket: number, sku: 'port-smd', amount: 3.9 };
		expect(await makeClaim(db, 'Odile', NOW, claim)).toEqual({ ok: true });
		expect(await makeClaim(db, 'Odile', NOW, claim)).toEqual({
			ok: false,
			field: 'sku',
			message: `of ${number} is claimed already; settle that claim in the list`
		});
		expect(await makeClaim(db, 'Odile', NOW, { ...claim, ticket: first.number })).toMatchObject({
			field: 'ticket'
		});
		const settle = { ticket: number, sku: 'port-smd', version: 1, state: 'granted' as const };
		expect(await settleClaim(db, 'Odile', NOW, settle)).toMatchObject({ ok: false, field: 'granted' });
		expect(await settleClaim(db, 'Odile', NOW, { ...settle, granted: 2 })).toEqual({ ok: true });
		expect(await settleClaim(db, 'Odile', NOW, { ...settle, granted: 3 })).toMatchObject({ ok: false });
		const { records } = await catalogNow(db);
		const kept = records.claim.get(`${number} port-smd`);
		expect(kept).toMatchObject({ state: 'granted', granted: 2 });
		// written in the order of its kind: an export comes back the same, byte by byte
		expect(JSON.stringify(CATALOG_KINDS.claim.schema.parse(kept))).toBe(JSON.stringify(kept));

		await changed(db, number, { verb: 'comeback', of: null });
		expect((await findTicket(db, number))?.ticket).not.toHaveProperty('cameFrom');
	});
	it('a claim is of the lot that was fitted last, and goes to who sold that lot', async () => {
		const records = [
			{ record: 'supplier', code: 'quayside', label: 'Quayside Parts' },
			{ record: 'supplier', code: 'old-dock', label: 'Old Dock' },
			{ record: 'part', sku: 'claimed', label: 'Claimed', unit_cost: 4, supplier: 'old-dock' },
			...['one', 'two'].map((code, i) => ({
				record: 'lot',
				code: `claimed-${code}`,
				sku: 'claimed',
				received_at: `2026-0${i + 1}-01T08:00:00Z`,
				quantity: 9,
				unit_cost: 4,
				supplier: i === 0 ? 'old-dock' : 'quayside'
			}))
		];
		expect((await importLines(db, 'test', NOW, jsonLines(records))).rejected).toEqual([]);
		const first = await takenIn(db);
		for (const lot of ['claimed-one', 'claimed-two'])
			await changed(db, first, { verb: 'use-part', sku: 'claimed', quantity: 1, lot });
		await changed(db, first, {
			verb: 'close',
			outcome: 'not-fixed',
			faults: ['port-contacts'],
			paidMinor: 0
		});
		const number = await takenIn(db);
		await changed(db, number, { verb: 'comeback', of: first });
		expect(await makeClaim(db, 'Odile', NOW, { ticket: number, sku: 'claimed', amount: 4 })).toEqual({
			ok: true
		});
		const { records: now } = await catalogNow(db);
		expect(now.claim.get(`${number} claimed`)).toMatchObject({ lot: 'claimed-two', supplier: 'quayside' });
	});
	it('an early warning that was put away says why, and by whom', async () => {
		const away = { of: 'lot' as const, row: 'lot-x', ticket: 'K-00001', reason: 'three of them fell' };
		expect(await clearAlarm(db, 'Odile', NOW, away)).toEqual({ ok: true });
		const { records } = await catalogNow(db);
		expect(records['cleared-alarm'].get('lot lot-x K-00001')).toMatchObject({
			reason: away.reason,
			by: 'Odile'
		});
	});
});

describe('the migration', () => {
	it('a filled database of the version before keeps its tickets and customers, and learns which procedures they followed', async () => {
		const { db: old } = await freshDatabaseUrl();
		await migrate(old, '008-bench');
		const step = { procedure: 'p', version: 1, step: 0, at: '2026-11-20T10:00:00Z' };
		const record = {
			record: 'ticket',
			number: 'K-1',
			opened_at: '2026-11-20T09:00:00Z',
			model: 'm',
			steps: [
				{ ...step, did: 'begun' },
				{ ...step, did: 'done' },
				{ ...step, procedure: 'q', did: 'skipped' }
			]
		};
		const [id] = await old('customers').insert({ name: 'Vida', kind: 'private', digest: 'd' });
		const row = { model: 'm', opened_at: new Date(NOW), customer_id: id };
		await old('tickets').insert({ ...row, number: 'K-1', record: JSON.stringify(record) });
		await old('tickets').insert({
			...row,
			number: 'K-2',
			record: JSON.stringify({ ...record, number: 'K-2', steps: undefined })
		});
		await migrate(old);
		expect(await old('tickets').orderBy('id').pluck('methods')).toEqual(['["p"]', null]);
		expect((await findTicket(old, 'K-1'))?.ticket.customer).toEqual({ name: 'Vida', kind: 'private' });
		expect(await old('messages').count({ n: '*' }).first()).toEqual({ n: 0 });
		await old.destroy();
	});
	it('the one after that finds what warranty an offer gave, and keeps messages, links and pages', async () => {
		const { db: old } = await freshDatabaseUrl();
		await migrate(old, '010-looked-up');
		const offered = (days: number[]) => ({
			offered: days.map((warranty_days) => ({ label: 'x', price: 1, warranty_days }))
		});
		const tickets: object[][] = [
			[offered([30, 400]), { accepted: true, option: 1 }],
			[offered([30, 400]), { accepted: true }],
			[offered([30]), { accepted: false }],
			[offered([30]), { accepted: true }, { quoted: 5 }, { accepted: true }],
			[{ quoted: 5 }, { accepted: true }]
		];
		for (const [i, dealings] of tickets.entries()) {
			const number = `K-${i + 1}`;
			const record = { record: 'ticket', number, opened_at: '2026-11-10T10:00:00Z', model: 'm', dealings };
			await old('tickets').insert({
				number,
				model: 'm',
				opened_at: new Date(),
				record: JSON.stringify(record)
			});
		}
		const { id } = (await old('tickets').first('id')) as { id: number };
		const message: Partial<Row<'messages'>> = {
			ticket_id: id,
			about: 'quote',
			channel: 'mail',
			once: 'x'.repeat(64),
			recipient: 'a@example.net',
			body: 'b',
			state: 'waiting',
			created_at: new Date()
		};
		await old('messages').insert(message);
		await old('calendar_links').insert({
			technician: 't',
			secret_hash: Buffer.alloc(32),
			created_at: new Date(),
			created_by: 'o'
		});
		await migrate(old);
		expect(await old('tickets').orderBy('id').pluck('offered_warranty')).toEqual([400, 30, null, null, null]);
		expect(await old('messages').first('body', 'language')).toEqual({ body: 'b', language: null });
		expect(await old('calendar_links').first('technician', 'ends_at')).toEqual({
			technician: 't',
			ends_at: null
		});
		expect(await old('tickets').where({ page_ended: true }).pluck('id')).toEqual([]);
		expect(await old('shown_views').pluck('name')).toEqual([]);
		await old.destroy();
	});
	it('the next one learns who was asked how the device does since they have it back, and what harm was done', async () => {
		const { db: old } = await freshDatabaseUrl();
		await migrate(old, '009-returns');
		const at = (day: number) => `2026-11-${day}T10:00:00Z`;
		const said = (day: number, found: string) => ({ followed_up: found, at: at(day) });
		const tickets: [dealings: object[], back: number | null][] = [
			[[said(14, 'not-reached'), said(15, 'holds')], 12],
			[[said(14, 'holds'), said(16, 'fails'), said(17, 'not-reached')], 12],
			[[said(11, 'fails')], 12],
			[[said(14, 'not-reached')], 12],
			[[{ told: true, at: at(14) }], 12],
			[[said(14, 'holds')], null]
		];
		for (const [i, [dealings, back]] of tickets.entries()) {
			const number = `K-${i + 1}`;
			const harm = i === 1 ? { own_faults: ['torn'] } : i === 2 ? { own_faults: [] } : {};
			const record = { record: 'ticket', number, opened_at: at(10), model: 'm', dealings, ...harm };
			const moments = {
				opened_at: new Date(at(10)),
				collected_at: back === null ? null : new Date(at(back))
			};
			await old('tickets').insert({ number, model: 'm', ...moments, record: JSON.stringify(record) });
		}
		await migrate(old);
		const rows = (await old('tickets').orderBy('id').select('asked_at', 'held')) as {
			asked_at: Date | null;
			held: boolean | null;
		}[];
		expect(await old('tickets').where({ harmed: true }).pluck('number')).toEqual(['K-2']);
		const no = [null, null];
		expect(rows.map(({ asked_at: asked, held }) => [asked?.getTime() ?? null, held])).toEqual([
			[Date.parse(at(15)), true],
			[Date.parse(at(16)), false],
			no,
			no,
			no,
			no
		]);
		await old.destroy();
	});
});
