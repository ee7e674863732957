import { describe, expect, it } from 'vitest';
import { NOW, fresh, made, close, ALL } from '$worlds/changed-tickets';
import { earlyKeys, provenReferences, readingKey, REFUTED, takenBackBy } from './proven-references';
import { entryOf } from './strike-out';
import { ruleOf, ticketChangeSchema, VERBS, type TicketChange, type Verb } from './ticket-change';
import { STRIKABLE_LISTS } from './ticket-entries';
import { type Ticket } from './ticket-record';
import { mayChange, mayMake, mayStrike, notYours, PERMISSIONS } from './verb-roles';

describe('who may', () => {
	it('strike out only what they may enter', () => {
		const counter = STRIKABLE_LISTS.filter((list) => mayStrike('counter', list));
		expect(counter).toEqual(['opinions', 'inspection', 'meter', 'battery', 'photos', 'notes']);
		expect(STRIKABLE_LISTS.every((list) => mayStrike('technician', list) && mayStrike('manager', list))).toBe(
			true
		);
	});
	it('the counter closes a declined ticket alone, and puts back what it could have entered', () => {
		const closing = (outcome: string) =>
			ticketChangeSchema.parse(close({ outcome, faults: [] })) as TicketChange;
		expect(
			['declined', 'not-worth-it', 'fixed'].map((outcome) => mayMake('counter', closing(outcome), fresh))
		).toEqual([true, false, false]);
		expect(mayMake('technician', closing('fixed'), fresh)).toBe(true);
		expect(mayMake('technician', closing('declined'), fresh)).toBe(true);
		const struck = (list: 'notes' | 'parts') => ({ ...fresh, struck: [{ list, index: 0, entry: {} }] });
		const back = { verb: 'put-back', index: 0 } as const;
		expect([
			mayMake('counter', back, struck('notes')),
			mayMake('counter', back, struck('parts')),
			mayMake('counter', back, fresh)
		]).toEqual([true, false, true]);
		const out = (list: 'notes' | 'parts') => ({ verb: 'withdraw', list, index: 0 }) as const;
		expect([mayMake('counter', out('notes'), fresh), mayMake('counter', out('parts'), fresh)]).toEqual([
			true,
			false
		]);
	});
	it('the table tells each verb, and closing by what it says', () => {
		expect(PERMISSIONS).toHaveLength(VERBS.length + 1);
		const rolesOf = (named: string) => PERMISSIONS.find(({ change }) => change === named)?.roles;
		expect(rolesOf('close as declined')).toContain('counter');
		expect(rolesOf('close')).not.toContain('counter');
		const said = PERMISSIONS.map(({ says }) => says);
		expect([new Set(said).size, said.every((words) => /^[a-z][a-z -]+$/.test(words))]).toEqual([
			said.length,
			true
		]);
		for (const verb of VERBS) expect(ruleOf(verb).roles.every((role) => mayChange(role, verb))).toBe(true);
		expect(mayChange('counter', 'read-pins')).toBe(false);
		expect(notYours('counter', 'read-pins')).toBe(
			'you cannot record pin readings; ask a manager or a technician'
		);
	});
});

describe('what a closing proved', () => {
	const read = (ticket: Ticket, stage: 'diagnosis' | 'after-repair', value: number, now: number) =>
		made(ticket, { verb: 'read-pins', stage, mode: 'diode', readings: [{ pin: '1', value }] }, now);
	const early = read(fresh, 'diagnosis', 0.4, NOW);
	const late = read(early, 'after-repair', 0.5, NOW + 1000);
	const closed: Ticket = { ...late, closedAt: NOW + 5000, outcome: 'fixed', faults: ['coil-open'] };
	const [proven] = provenReferences(closed);
	it('is what was read after the repair, and only of a fixed device', () => {
		expect(provenReferences(closed)).toHaveLength(1);
		expect(proven).toMatchObject({ pin: '1', value: 0.5, grade: 'verified', ticket: 'K-1' });
		expect(provenReferences({ ...closed, outcome: 'not-fixed' })).toEqual([]);
		expect(provenReferences({ ...closed, closedAt: null })).toEqual([]);
		expect([...earlyKeys(closed)]).toEqual([`1 diode 0.4 2026-11-24T10:00:00Z`]);
	});
	it('counts no more when the ticket is reopened; what it promoted is provisional again, what it refuted stands in again', () => {
		const own = proven as NonNullable<typeof proven>;
		const promoted = { ...own, pin: '2', value: 0.7 };
		const refuted = {
			...own,
			pin: '3',
			grade: 'provisional' as const,
			withdrawn: { at: own.taken_at as string, because: REFUTED }
		};
		const other = { ...own, pin: '4', withdrawn: { at: own.taken_at as string, because: 'mistyped' } };
		const standsIn = { ...own, pin: '5', grade: 'provisional' as const };
		expect(takenBackBy([own, promoted, refuted, other, standsIn], closed)).toEqual({
			unproven: [own],
			demoted: [promoted],
			restored: [refuted]
		});
		expect(takenBackBy([own, promoted], { ...closed, outcome: 'not-fixed' })).toEqual({
			unproven: [],
			demoted: [],
			restored: []
		});
		expect(readingKey({ pin: '1', mode: 'diode' })).toBe('1 diode OL ');
	});
});

describe('entries that were struck out', () => {
	it.each(STRIKABLE_LISTS)('of %s go out and come back as they were', (list) => {
		const verb = VERBS.find((name) => ruleOf(name).makes === list) as Verb;
		const [before, input] = ALL[verb];
		const full = made(before, input);
		const out = made(full, { verb: 'withdraw', list, index: 0 });
		expect(out[list]).toEqual(full[list].slice(1));
		expect(entryOf(out.struck[0] as Ticket['struck'][number])).toEqual(full[list][0]);
		expect(made(out, { verb: 'put-back', index: 0 })[list]).toEqual(full[list]);
	});
});
