import { describe, expect, it } from 'vitest';
import { catalog, close, fresh, made, NOW, passed } from '$worlds/changed-tickets';
import { stretchesOf } from '../bench/day/work-left';
import type { Plan } from '../diagnosis/plan/plan-view';
import { emptyPast, type Past } from '../quoting/past';
import type { TicketChangeInput } from '../tickets/ticket-change';
import type { Ticket } from '../tickets/ticket-record';
import { MINUTE_MS } from '../units/instant';
import { workforceOf, workLeft } from './remaining-work';

const past: Past = emptyPast();
/** a shop that writes no procedures, and one that follows them */
const hands = workforceOf({ ...catalog, procedures: new Map() }, past);
const followers = workforceOf(catalog, past);
const step = (kind: string, code: string) => ({ kind, code, label: `do ${code}` }) as Plan['next'][number];
const plan = (next: Plan['next'] = [], gone = false): Plan => ({ next, gone, ahead: 1 });
const REPAIR = plan([step('operation', 'replace-battery')]);
const left = (ticket: Ticket, advised = REPAIR, now = NOW, force = hands) =>
	workLeft(force, ticket, advised, now);
const codes = (ticket: Ticket, advised?: Plan) => left(ticket, advised)?.tasks.map(({ code }) => code);
const after = (...inputs: TicketChangeInput[]) =>
	inputs.reduce((ticket, input) => made(ticket, input), fresh);
const accepted = (...operations: string[]) =>
	after(
		{
			verb: 'offer',
			options: [{ label: 'x', operations, priceMinor: 9000 }],
			how: 'counter'
		} as unknown as TicketChangeInput,
		{ verb: 'answer', accepted: true } as TicketChangeInput
	);
const able = (skill: string) =>
	[...catalog.technicians.values()]
		.flatMap(({ code, skills }) => (skills?.includes(skill) ? [code] : []))
		.sort();

describe('what is left to do', () => {
	it('nothing of a closed ticket, a declined price, or one that waits for others', () => {
		const quoted = after({ verb: 'quote', priceMinor: 5000 });
		expect(left({ ...fresh, closedAt: NOW })).toBeNull();
		expect(left(made(quoted, { verb: 'answer', accepted: false } as TicketChangeInput))).toBeNull();
		for (const wait of ['customer', 'part', 'pick-up'] as const)
			expect(left(after({ verb: 'wait', for: wait } as TicketChangeInput)), wait).toBeNull();
		expect(left(fresh)).not.toBeNull();
	});
	it.each<[string, TicketChangeInput, number]>([
		['a wait with its end', { verb: 'wait', for: 'cooling', minutes: 7 } as TicketChangeInput, 7],
		[
			'a wait that nobody timed takes what it usually does',
			{ verb: 'wait', for: 'cooling' } as TicketChangeInput,
			12
		],
		['others act by a time', { verb: 'wait', for: 'part', minutes: 90 } as TicketChangeInput, 90]
	])('%s: not before %s', (_, wait, minutes) =>
		expect(left(after(wait))?.from).toBe(NOW + minutes * MINUTE_MS)
	);
	it('a wait that is over holds nobody up', () => {
		const waits = after({ verb: 'wait', for: 'cooling', minutes: 7 } as TicketChangeInput);
		const later = NOW + 60 * MINUTE_MS;
		expect(left(waits, REPAIR, later)?.from).toBe(later);
	});
	it('a comeback weighs half as much again, and a promise is its due time', () => {
		expect([left(fresh)?.weight, left({ ...fresh, comebackOf: 'K-0' })?.weight]).toEqual([1, 1.5]);
		expect([left(fresh)?.due, left({ ...fresh, promisedAt: NOW + 5 })?.due]).toEqual([null, NOW + 5]);
	});
	it('is pinned only by somebody who works here, and not in the past', () => {
		const pinned = (technician: string, startAt: number) =>
			left({ ...fresh, pinned: { technician, startAt } } as Ticket)?.pinned ?? null;
		expect(pinned('ines', NOW)).toEqual({ technician: 'ines', startAt: NOW });
		expect([pinned('ines', NOW - 1), pinned('nobody', NOW)]).toEqual([null, null]);
	});
	it('has begun where a timer runs', () => {
		expect(left(fresh)?.begun).toBeNull();
		const runs = after({ verb: 'start-timer', operation: 'replace-battery', technician: 'bram' });
		expect(left(runs)?.begun).toEqual({ technician: 'bram', since: NOW });
	});
});

describe('the tasks of a ticket', () => {
	const [test] = [...catalog.tests.values()];
	it('finding out comes first, while nothing is repaired; then what is advised, then proving', () => {
		const find = plan([step('test', test!.code), step('operation', 'replace-battery')]);
		expect(codes(fresh, find)).toEqual([`find ${test!.code}`, 'replace-battery', 'prove']);
		const tried = after({
			verb: 'attempt',
			operation: 'clean-port',
			technician: 'ines',
			minutes: 5,
			resolved: false
		});
		expect(codes(tried, find)).toEqual(['replace-battery', 'prove']);
		const minutes = Object.values(left(fresh, find)!.tasks[0]!.by);
		expect(new Set(minutes)).toEqual(new Set([Math.max(1, test!.minutes)]));
		expect(minutes).toHaveLength(catalog.technicians.size);
		const look = left(fresh, plan([step('measure', 'look')]))!.tasks[0]!;
		expect([look.code, Object.values(look.by)[0]]).toEqual(['find look', 6]);
	});
	it('a complaint that is gone leaves the proving', () => {
		expect(codes(fresh, plan([], true))).toEqual(['prove']);
		expect(left(passed(fresh), plan([], true))).toBeNull();
	});
	it('what was agreed goes before what is advised, without what is done already', () => {
		const agreed = accepted('replace-battery', 'reseat-battery');
		expect(codes(agreed, plan([step('operation', 'clean-board')]))).toEqual([
			'replace-battery',
			'reseat-battery',
			'prove'
		]);
		const done = made(agreed, {
			verb: 'attempt',
			operation: 'replace-battery',
			technician: 'ines',
			minutes: 5,
			resolved: false
		});
		expect(codes(done, REPAIR)).toEqual(['reseat-battery', 'prove']);
		const part = made(agreed, {
			verb: 'attempt',
			operation: 'replace-battery',
			technician: 'ines',
			minutes: 5,
			resolved: false,
			part: true
		});
		expect(codes(part, REPAIR)).toEqual(['replace-battery', 'reseat-battery', 'prove']);
	});
	it('is for who has the skill, and for everybody where none has it', () => {
		const fuse = plan([step('operation', 'replace-fuse')]);
		const forFuse = (force = hands) =>
			left(fresh, fuse, NOW, force)!.tasks.filter(({ code }) => code !== 'prove');
		expect(able('boards').length).toBeLessThan(catalog.technicians.size);
		expect(forFuse().map(({ by }) => Object.keys(by).sort())).toEqual(forFuse().map(() => able('boards')));
		const unskilled = {
			...catalog,
			procedures: new Map(),
			technicians: new Map([...catalog.technicians].map(([code, one]) => [code, { ...one, skills: [] }]))
		};
		const [task] = forFuse(workforceOf(unskilled, past));
		expect(Object.keys(task!.by)).toHaveLength(catalog.technicians.size);
	});
	it('minutes that steps of a repair took are not planned again, down to the least', () => {
		const minutesLeft = (ticket: Ticket) => left(ticket)!.tasks[0]!.by.ines as number;
		const part = (minutes: number): TicketChangeInput => ({
			verb: 'attempt',
			operation: 'replace-battery',
			technician: 'ines',
			minutes,
			resolved: false,
			part: true
		});
		const whole = minutesLeft(fresh);
		expect(minutesLeft(after(part(4)))).toBeCloseTo(whole - 4, 9);
		expect(minutesLeft(after(part(4), part(3)))).toBeCloseTo(whole - 7, 9);
		expect(minutesLeft(after(part(400)))).toBe(5);
		// what came before a whole attempt belongs to that one
		const again = after(part(4), { ...part(9), part: false } as TicketChangeInput, part(2));
		expect(minutesLeft(again)).toBeCloseTo(whole - 2, 9);
	});
	it('a procedure is its stretches, spread to what the repair takes; done twice, its tasks keep apart', () => {
		const usual = [...catalog.procedures.values()].find(
			({ operation, usual, models }) => operation === 'replace-port' && usual && !models
		)!;
		const stretches = stretchesOf(usual.steps, null);
		const tasks = left(fresh, plan([step('operation', 'replace-port')]), NOW, followers)!.tasks;
		expect(tasks.map(({ code }) => code)).toEqual([
			...stretches.map((_, i) => `${usual.code} ${i}`),
			'prove'
		]);
		expect(tasks.slice(0, -1).map(({ wait, station }) => [wait, station])).toEqual(
			stretches.map(({ wait, station }) => [wait, station])
		);
		const shares = tasks.slice(0, -1).map(({ by }) => Object.values(by)[0] as number);
		const longest = stretches.reduce(
			(best, { minutes }, i) => (minutes > stretches[best]!.minutes ? i : best),
			0
		);
		shares.forEach((minutes, i) =>
			expect(minutes).toBeCloseTo(
				Math.max(1, (shares[longest]! * stretches[i]!.minutes) / stretches[longest]!.minutes),
				6
			)
		);
		const all = stretches.reduce((sum, { minutes }) => sum + minutes, 0);
		const whole = Object.values(left(fresh, plan([step('operation', 'replace-port')]))!.tasks[0]!.by)[0]!;
		expect(shares[longest]).toBeCloseTo((whole * stretches[longest]!.minutes) / all, 6);
		const twice = left(accepted('replace-port', 'replace-port'), REPAIR, NOW, followers)!.tasks.map(
			({ code }) => code
		);
		expect(new Set(twice).size).toBe(twice.length);
	});
	it('a run that is under way goes on where it stands', () => {
		const usual = [...catalog.procedures.values()].find(
			({ operation, usual, models }) => operation === 'replace-port' && usual && !models
		)!;
		const did = (at: number, did: 'begun' | 'done'): TicketChangeInput =>
			({
				verb: 'step',
				procedure: usual.code,
				version: usual.version,
				step: at,
				did,
				technician: 'ines'
			}) as TicketChangeInput;
		const begun = after(did(0, 'begun'), did(0, 'done'));
		expect(
			left(begun, plan([step('test', test!.code)]), NOW, followers)!.tasks.map(({ code }) => code)
		).toEqual([...stretchesOf(usual.steps.slice(1), null).map((_, i) => `${usual.code} ${i}`), 'prove']);
	});
	it('a closed and reopened ticket is planned again', () => {
		const shut = made(
			passed(
				after({ verb: 'attempt', operation: 'replace-port', technician: 'ines', minutes: 5, resolved: true })
			),
			close()
		);
		expect(left(shut)).toBeNull();
		expect(left(made(shut, { verb: 'reopen' }))).not.toBeNull();
	});
});
