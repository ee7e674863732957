import { addUser, setUserActive } from '$lib/server/identity/users';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openRun } from '$lib/core/bench/procedure-run';
import { openedTicket } from '$lib/core/tickets/ticket-record';
import { waitsNow } from '$lib/core/tickets/waits';
import { DAY_MS, MINUTE_MS } from '$lib/core/units/instant';
import { recordVersion } from '$lib/server/catalog/queries';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { knexConfig } from '$lib/server/database/config';
import type { Database } from '$lib/server/database/connection';
import { migrate } from '$lib/server/database/migrate';
import { calendarFeed } from '$lib/server/floor/calendar-feed';
import { Stopped } from '$lib/server/database/in-turns';
import { houseNow, improvePlan } from '$lib/server/floor/day';
import { counterWord } from '$lib/server/floor/promise';
import { promisesKept } from '$lib/server/floor/promises-kept';
import { floorView } from '$lib/server/floor/queries';
import {
	calendarLinks,
	endCalendarLink,
	makeCalendarLink,
	technicianOfLink
} from '$lib/server/identity/calendar-links';
import { changeTicket } from '$lib/server/tickets/change-ticket';
import { ticketChangeSchema } from '$lib/core/tickets/ticket-change';
import { findTicket, timedWaits } from '$lib/server/tickets/queries';
import { findStanding } from '$lib/server/tickets/where';
import knex from 'knex';
import { freshDatabaseUrl } from './fresh-database';
import { ticketView } from '$lib/server/tickets/view';
import { changed, ines, NOW, smallShop, takenIn } from './small-shop';

let db: Database;
beforeAll(async () => {
	db = await smallShop();
});
afterAll(() => db.destroy());

const step = (at: number, did: 'begun' | 'done', technician = 'ines') =>
	({ verb: 'step', procedure: 'port-hot-air', version: 1, step: at, did, technician }) as const;

describe('a procedure in the shop', () => {
	it('is followed over restarts: run, wait and its end stand in the database', async () => {
		const number = await takenIn(db);
		const about = (await findTicket(db, number))?.ticket;
		expect(about).toBeDefined();
		await changed(db, number, step(0, 'begun'));
		const steps = [0, 1, 2, 3, 4, 5, 6];
		for (const at of steps) await changed(db, number, step(at, 'done'), NOW + at * MINUTE_MS);
		// as a second process reads it
		const other = knex(knexConfig((db.client.config.connection as { uri?: string }).uri ?? urlOf(db)));
		const [waiting] = (await timedWaits(other)).filter(({ ticket }) => ticket.number === number);
		await other.destroy();
		expect(waitsNow(waiting?.ticket ?? (about as never))).toMatchObject([
			{ for: 'cooling', until: NOW + 6 * MINUTE_MS + 12 * MINUTE_MS }
		]);
		expect(openRun(waiting?.ticket.steps ?? [])?.next).toBe(7);
		await changed(db, number, { verb: 'end-wait', for: 'cooling' }, NOW + 20 * MINUTE_MS);
		expect((await timedWaits(db)).some(({ ticket }) => ticket.number === number)).toBe(false);
	});
	it('one pair of hands: a step is not begun while a timer of theirs runs elsewhere', async () => {
		const [one, two] = [await takenIn(db), await takenIn(db)];
		await changed(db, one, step(0, 'begun', 'tomasz'));
		const version = (await findTicket(db, two))?.version ?? 0;
		const change = ticketChangeSchema.parse(step(0, 'begun', 'tomasz'));
		const answer = await changeTicket(db, ines, NOW, two, { version, once: crypto.randomUUID(), change });
		expect(answer).toMatchObject({ ok: false, code: 'refused', elsewhere: { number: one } });
	});
	it('a part that a step takes leaves the shelf', async () => {
		const number = await takenIn(db, 'pelagic-25');
		await changed(db, number, step(0, 'begun', 'bram'));
		for (let at = 0; at < 11; at++) {
			const now = NOW + at * MINUTE_MS;
			if (at === 7) {
				await changed(db, number, { verb: 'end-wait', for: 'cooling' }, now);
				await changed(db, number, step(7, 'begun', 'bram'), now);
				// nothing to plug into: what is entered and advised is of the moment with the old port off
				const view = await ticketView(db, number, 'technician', now);
				expect(view?.stageOfRun).toBe('port-off');
				const codes = view?.plan.steps.map(({ code }) => code) ?? [];
				expect(codes).toContain('pads-look');
				expect(codes).not.toContain('plug-in');
				const seen = { test: 'vbus-ground-off', outcome: 'normal' };
				await changed(db, number, { verb: 'observe', stage: 'port-off', ...seen }, now);
			}
			await changed(db, number, step(at, 'done', 'bram'), now);
		}
		const ticket = (await findTicket(db, number))?.ticket;
		expect(ticket?.parts).toMatchObject([{ sku: 'port-smd', quantity: 1 }]);
	});
	it('a picture that is not kept is not named', async () => {
		const number = await takenIn(db);
		const photo = { verb: 'photo', photo: '0'.repeat(64), of: 'board', width: 1, height: 1 } as const;
		await expect(changed(db, number, photo)).rejects.toThrow(/not kept here/);
	});
});

const urlOf = (of: Database): string => {
	const { host, port, user, password, database } = of.client.config.connection as Record<string, string>;
	return `mysql://${user}:${encodeURIComponent(password ?? '')}@${host}:${port}/${database}`;
};

describe('the plan of the house', () => {
	it('stands until something changes or time goes on, and is made anew then', async () => {
		const first = await houseNow(db, NOW);
		const again = await houseNow(db, NOW + 1000);
		expect(again.plan).toBe(first.plan);
		const number = await takenIn(db);
		const grown = await houseNow(db, NOW + 2000);
		expect(grown.plan).not.toBe(first.plan);
		expect(grown.plan.jobs.some((job) => job.number === number)).toBe(true);
		const later = await houseNow(db, NOW + 4 * MINUTE_MS);
		expect(later.plan.now).toBe(NOW + 4 * MINUTE_MS);
	});
	it('is searched for further once; work that is asked to end keeps what it has come to', async () => {
		const { improving, plan } = await houseNow(db, NOW + 4 * MINUTE_MS);
		expect(improving).toBe(true);
		expect(await improvePlan(db, { asked: true })).toBe(true);
		const after = await houseNow(db, NOW + 4 * MINUTE_MS);
		expect(after.improving).toBe(false);
		expect(after.plan.tasks.length).toBe(plan.tasks.length);
		expect(await improvePlan(db)).toBe(false);
	});
	it('of a floor that nobody waits for any more is not made', async () => {
		await takenIn(db);
		await expect(houseNow(db, NOW + 20 * MINUTE_MS, { asked: true })).rejects.toBeInstanceOf(Stopped);
	});
	it('plans nobody who is away, nor before they are back', async () => {
		const from = new Date(NOW - 60_000).toISOString();
		const away = {
			record: 'absence' as const,
			technician: 'tomasz',
			from,
			to: new Date(NOW + 10 * 24 * 3_600_000).toISOString()
		};
		expect(await saveCatalogRecord(db, 'test', NOW, away, null)).toEqual({ ok: true });
		const { plan } = await houseNow(db, NOW);
		// what only he can do waits for him
		const begun = plan.tasks.filter(
			({ technician, fixed, start }) =>
				technician === 'tomasz' && fixed !== 'begun' && start < Date.parse(away.to)
		);
		expect(begun).toEqual([]);
		const version = await recordVersion(db, 'absence', `tomasz ${from}`);
		expect(version).toBe(1);
		await saveCatalogRecord(db, 'test', NOW, { ...away, cancelled: true }, version);
		const back = await houseNow(db, NOW);
		expect(back.plan.tasks.some(({ technician }) => technician === 'tomasz')).toBe(true);
	});
	it('a task that is pinned stands where it was put, and is let go again', async () => {
		const number = await takenIn(db);
		const startAt = NOW + 90 * MINUTE_MS;
		await changed(db, number, { verb: 'pin', to: { technician: 'noor', startAt } });
		const floor = await floorView(db, NOW);
		expect(floor.tasks.find((task) => task.number === number)).toMatchObject({
			technician: 'noor',
			start: startAt,
			fixed: 'pinned'
		});
		expect(floor.tags.find((tag) => tag.number === number)?.pinned).toBe(true);
		await changed(db, number, { verb: 'pin', to: null });
		const free = await floorView(db, NOW);
		expect(free.tasks.find((task) => task.number === number)?.fixed).toBeNull();
	});
	it('nobody does two things at once, nothing is done in a closed hour, and a ticket’s tasks follow one another', async () => {
		const { plan, bench } = await houseNow(db, NOW);
		const loose = plan.tasks.filter(({ fixed }) => fixed === null);
		expect(loose.length).toBeGreaterThan(10);
		for (const { code, free } of bench.technicians) {
			const own = plan.tasks.filter(({ technician }) => technician === code);
			own.slice(1).forEach((task, i) => expect(task.start).toBeGreaterThanOrEqual((own[i]?.end ?? 0) - 1));
			for (const { start, end } of own.filter(({ fixed }) => fixed === null)) {
				expect(free.some(([from, to]) => start >= from - 1 && end <= to + 1)).toBe(true);
			}
		}
		for (const { number } of plan.jobs) {
			const own = plan.tasks.filter((task) => task.number === number);
			own
				.slice(1)
				.forEach((task, i) => expect(task.start).toBeGreaterThanOrEqual((own[i]?.waitEnd ?? 0) - 1));
		}
	});
	it('late is what the plan ends after its promise; what waits for others is not planned', async () => {
		const number = await takenIn(db);
		await changed(db, number, { verb: 'correct', promisedAt: NOW + MINUTE_MS });
		const late = (await floorView(db, NOW)).tags.find((tag) => tag.number === number);
		expect(late).toMatchObject({ urgency: 'late' });
		expect(late?.why).toBeTruthy();
		await changed(db, number, { verb: 'wait', for: 'part' });
		const waiting = (await floorView(db, NOW)).tags.find((tag) => tag.number === number);
		expect(waiting).toMatchObject({ ends: null, state: 'waiting' });
	});
	it('what its customer declined is not planned, and shown without its repair', async () => {
		const number = await takenIn(db);
		const tagNow = async () => (await floorView(db, NOW)).tags.find((tag) => tag.number === number);
		expect((await tagNow())?.next).toBeTruthy();
		await changed(db, number, { verb: 'quote', priceMinor: 9000 });
		await changed(db, number, { verb: 'answer', accepted: false });
		expect(await tagNow()).toMatchObject({ state: 'declined', next: null, minutes: 0, ends: null });
		expect((await floorView(db, NOW)).tasks.some((task) => task.number === number)).toBe(false);
		await changed(db, number, { verb: 'quote', priceMinor: 7000 });
		await changed(db, number, { verb: 'answer', accepted: true });
		const again = await tagNow();
		expect(again).toMatchObject({ state: 'accepted' });
		expect(again?.next).toBeTruthy();
	});
	it('costs nobody anything: no figure of money is on the floor', async () => {
		const text = JSON.stringify(await floorView(db, NOW));
		expect(text).not.toMatch(/minor|cost/i);
	});
});

describe('what the counter may say', () => {
	const asked = (signs: Record<string, boolean>) => ({
		...openedTicket('K-0', NOW, 'tern-9'),
		customer: { name: '-', kind: 'private' as const },
		signs
	});
	it('likely fault, prices and an honest date; a later promise is kept more often', async () => {
		const word = await counterWord(db, asked({ 'no-charge': true }), NOW, NOW + 60 * MINUTE_MS);
		expect(word.likely?.probability).toBeGreaterThan(0.05);
		expect(word.prices?.lowMinor).toBeLessThanOrEqual(word.prices?.highMinor ?? 0);
		expect(word.honest).toBeGreaterThan(NOW);
		const later = await counterWord(db, asked({ 'no-charge': true }), NOW, word.honest ?? 0);
		expect(later.asked?.chance).toBeGreaterThanOrEqual(0.9);
		expect(later.asked?.chance).toBeGreaterThanOrEqual(word.asked?.chance ?? 1);
	});
	it('how promises were kept, by month', async () => {
		const [latest] = await promisesKept(db, NOW, 'Europe/Lisbon');
		const rows = await db('tickets')
			.whereNotNull('promised_at')
			.andWhereNot('outcome', 'declined')
			.andWhereRaw("DATE_FORMAT(closed_at, '%Y-%m') = ?", [latest?.month ?? ''])
			.select('promised_at', 'closed_at');
		expect(latest?.promised).toBe(rows.length);
		expect(latest?.kept).toBe(
			rows.filter(({ closed_at, promised_at }) => closed_at && promised_at && closed_at <= promised_at).length
		);
		expect(latest?.low).toBeLessThanOrEqual((latest?.kept ?? 0) / (latest?.promised ?? 1));
	});
	it('where a device stands, by telephone as by number', async () => {
		const number = await takenIn(db);
		await changed(db, number, {
			verb: 'correct',
			customer: { name: 'Ylva Merrow', kind: 'private', phone: '0555 777001' }
		});
		for (const text of [number, 'Ylva Mer', '0555 7770']) {
			const found = await findStanding(db, text);
			expect(found.map((one) => one.number)).toContain(number);
		}
		expect((await findStanding(db, number))[0]).toMatchObject({ state: 'taken-in', closed: false });
		expect(await findStanding(db, '0555 0000000')).toEqual([]);
	});
});

describe('calendars', () => {
	it('a secret shows one person’s work, until it is ended or made anew', async () => {
		const first = await makeCalendarLink(db, 'Odile', NOW, 'ines');
		expect(await technicianOfLink(db, first, NOW)).toBe('ines');
		expect(await calendarLinks(db)).toEqual([
			{ technician: 'ines', createdAt: NOW, endsAt: NOW + 365 * DAY_MS }
		]);
		expect(JSON.stringify(await db('calendar_links').select())).not.toContain(first);
		const second = await makeCalendarLink(db, 'Odile', NOW, 'ines');
		expect(await technicianOfLink(db, first, NOW)).toBeNull();
		await endCalendarLink(db, 'Odile', NOW, 'ines');
		expect(await technicianOfLink(db, second, NOW)).toBeNull();
		expect(await technicianOfLink(db, "x' OR 1=1", NOW)).toBeNull();
	});
	it('a link ends after the days that were chosen, and with the account', async () => {
		const month = await makeCalendarLink(db, 'Odile', NOW, 'ines', 30);
		expect(await technicianOfLink(db, month, NOW + 30 * DAY_MS - 1)).toBe('ines');
		expect(await technicianOfLink(db, month, NOW + 30 * DAY_MS)).toBeNull();
		const account = {
			signIn: 'ines2',
			name: 'Ines',
			role: 'technician' as const,
			technician: 'ines',
			password: 'a long enough one 7'
		};
		expect(await addUser(db, 'Odile', NOW, account)).toEqual({ ok: true });
		const { id, version } = (await db('users').where({ sign_in: 'ines2' }).first('id', 'version')) as {
			id: number;
			version: number;
		};
		expect(await setUserActive(db, 'Odile', NOW, { id, version, active: false })).toEqual({ ok: true });
		expect(await technicianOfLink(db, month, NOW)).toBeNull();
	});
	it('names tickets and devices, and no customer', async () => {
		const floor = await floorView(db, NOW);
		const code = floor.tasks[0]?.technician ?? '';
		const feed = calendarFeed(floor, { code, name: 'Someone' }, { name: 'Shop' });
		const own = floor.tasks.filter(({ technician }) => technician === code);
		expect(feed.match(/BEGIN:VEVENT/g)).toHaveLength(own.length);
		expect(feed).toContain(own[0]?.number);
		const stamp = new Date(own[0]?.start ?? 0).toISOString().replace(/[-:]|\.\d+/g, '');
		expect(feed).toContain(`DTSTART:${stamp}`);
		const uids = feed.match(/UID:.*/g) ?? [];
		expect(new Set(uids).size).toBe(uids.length);
		for (const { customer } of floor.tags) if (customer) expect(feed).not.toContain(customer);
	});
});

describe('the migration', () => {
	it('a filled database of the version before keeps its waits, which have no end', async () => {
		const { db: old } = await freshDatabaseUrl();
		await migrate(old, '007-money');
		const record = {
			record: 'ticket',
			number: 'K-1',
			opened_at: '2026-11-20T09:00:00Z',
			model: 'm',
			promised_at: '2026-11-21T09:00:00Z',
			waits: [{ for: 'cure', at: '2026-11-20T10:00:00Z' }]
		};
		await old('tickets').insert({
			number: 'K-1',
			model: 'm',
			opened_at: new Date(NOW),
			waiting_for: 'cure',
			record: JSON.stringify(record)
		});
		await migrate(old);
		const stored = await findTicket(old, 'K-1');
		expect(waitsNow(stored?.ticket ?? openedTicket('x', 0, 'm'))).toMatchObject([{ for: 'cure' }]);
		expect(await timedWaits(old)).toEqual([]);
		expect(await old('calendar_links').count({ n: '*' }).first()).toEqual({ n: 0 });
		await old.destroy();
	});
});
