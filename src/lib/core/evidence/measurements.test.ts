import type { PushedState } from './joint-state';
import { describe, expect, it } from 'vitest';
import { catalog, made, fresh, NOW } from '$worlds/changed-tickets';
import { readFeatures, withoutSimulated, type Evidence } from '../diagnosis/learn/evidence';
import { evidenceWords } from '../diagnosis/learn/evidence-words';
import { ticketTrail } from '../tickets/trail';
import { ticketRecord, ticketToRecord, openedTicket, type Ticket } from '../tickets/ticket-record';
import { ticketChangeSchema, type TicketChangeInput, type Verb } from '../tickets/ticket-change';
import { withEntry, withWaiting } from '../tickets/outbox';
import {
	ALL_MEASUREMENTS,
	measuredAnswers,
	MEASURED_QUESTIONS,
	MEASURES,
	MEASUREMENTS,
	measuredWords
} from './measurements';

/** A change that enters each measurement, and the answers that the odds read of it. */
const ENTERED: { readonly [List in keyof typeof MEASUREMENTS]: [TicketChangeInput, string[]] } = {
	inspection: [
		{ verb: 'look', places: ['1', 'tongue'], state: 'bent' },
		['look:contacts=bent', 'look:tongue=bent']
	],
	meter: [
		{ verb: 'plug-in', orientation: 'a', volts: 5.1, amps: 0, seconds: 20 },
		['meter:draw=nothing', 'meter:contract=base']
	],
	battery: [{ verb: 'battery', volts: 1.2 }, ['battery:state=discard']],
	readings: [
		{ verb: 'read-pins', mode: 'diode', readings: [{ pin: '1', value: 0.001 }] },
		['pins:vbus=short']
	],
	path: [{ verb: 'probe-node', node: 'fuse-out', volts: 5 }, ['path:fuse-out=there']],
	traces: [
		{
			verb: 'keep-trace',
			trace: {
				name: 'log',
				rows: 3,
				charge_mah: 1,
				energy_mwh: 5,
				phases: [
					{ kind: 'handshake', from_seconds: 0, to_seconds: 2, volts: 5, amps: 0.1 },
					{ kind: 'precharge', from_seconds: 2, to_seconds: 60, volts: 5, amps: 0.1 }
				]
			}
		},
		['log:end=precharge']
	],
	soak: [{ verb: 'soak', minutes: 0, percent: 90 }, []],
	joints: [{ verb: 'joint', place: '1', state: 'moves' }, ['look:joints=moves']],
	counts: [{ verb: 'count', what: 'pads', number: 3 }, ['count:pads=many']],
	supply: [{ verb: 'supply', volts: 4, amps: [0.02, 0.18, 0.03] }, ['supply:start=jump-and-back']]
};

const answersOf = (evidence: Evidence) => {
	const { answers, since = [] } = readFeatures(evidence, catalog);
	const keys = (some: typeof answers) => some.map(({ question, answer }) => `${question}=${answer}`);
	return { first: keys(answers), since: since.map((seen) => [seen.attempts, keys(seen.answers)]) };
};

describe('every measurement', () => {
	it.each(Object.entries(ENTERED))(
		'%s is entered, told, written, read and weighed',
		(list, [change, answers]) => {
			const { verb, list: own } = MEASUREMENTS[list as keyof typeof MEASUREMENTS];
			expect([own, change.verb]).toEqual([list, verb]);
			const ticket = made(fresh, change);
			const entries = ticket[list as keyof typeof MEASUREMENTS];
			expect(entries.length).toBeGreaterThan(0);
			for (const entry of entries) expect(entry).toMatchObject({ at: NOW, by: 'ines' });
			// the trail tells of it, the export holds it, and both ways are the same
			expect(ticketTrail(ticket, catalog).length).toBe(2);
			const written = ticketToRecord(ticket);
			expect((written as unknown as Record<string, unknown[]>)[list]?.length).toBe(entries.length);
			expect(ticketRecord.parse(written)).toEqual(ticket);
			// shown before the server has answered
			const waiting = withEntry([], { number: ticket.number, once: 'o', enteredAt: NOW, change }, 1);
			expect(withWaiting(fresh, waiting, catalog)[list as keyof typeof MEASUREMENTS].length).toBe(
				entries.length
			);
			expect(ticketChangeSchema.safeParse(change).success).toBe(true);
			expect(answersOf(ticket).first).toEqual(expect.arrayContaining(answers));
			for (const key of answers) {
				const words = evidenceWords(catalog, key);
				expect(words).not.toBe(key);
				expect(words.length).toBeGreaterThan(3);
			}
		}
	);
	it('has words for each of its answers, told apart from one another', () => {
		for (const { question, answers } of MEASURED_QUESTIONS) {
			const asked = question.replace(/:[A-Z]+$/, ':vbus');
			const words = answers.map((answer) => measuredWords(catalog, asked, answer));
			expect(new Set(words).size, question).toBe(answers.length);
			for (const each of words) expect(each, question).toBeTruthy();
			expect(measuredAnswers(asked)).toEqual(answers);
		}
		expect(measuredWords(catalog, 'no:such', 'x')).toBeNull();
		expect(measuredAnswers('pins:')).toBeNull();
	});
	it('has a list, a verb and questions of its own, and stands under its list', () => {
		for (const key of ['list', 'verb'] as const)
			expect(new Set(ALL_MEASUREMENTS.map((each) => each[key])).size).toBe(ALL_MEASUREMENTS.length);
		expect(new Set(MEASURED_QUESTIONS.map(({ question }) => question)).size).toBe(MEASURED_QUESTIONS.length);
		for (const [list, { list: own }] of Object.entries(MEASUREMENTS)) expect(own).toBe(list);
		for (const { question } of MEASURES)
			expect(MEASURED_QUESTIONS.some((asked) => asked.question.startsWith(question))).toBe(true);
		const verbs: readonly Verb[] = [
			'look',
			'plug-in',
			'battery',
			'read-pins',
			'probe-node',
			'keep-trace',
			'soak',
			'joint',
			'supply',
			'count'
		];
		expect(ALL_MEASUREMENTS.map(({ verb }) => verb)).toEqual(verbs);
	});
});

describe('what is measured without a stage speaks', () => {
	const failed = { operation: 'replace-port', resolved: false, at: 100 };
	const ticket = (more: Partial<Ticket>): Ticket => ({ ...openedTicket('K-1', 0, 'tern-6'), ...more });
	const moves = { place: '1', state: 'moves' as const };
	const bent = { place: '1', state: 'bent' as const };
	it.each<[string, Partial<Ticket>, string[], [number, string[]][]]>([
		['of what was wrong, before a repair', { joints: [moves] }, ['look:joints=moves'], []],
		[
			'of it too where its moment lies before the repair',
			{ joints: [{ ...moves, at: 99 }], attempts: [failed] },
			['look:joints=moves'],
			[]
		],
		[
			'of what a failed repair left, after it',
			{ joints: [{ ...moves, at: 100 }], attempts: [failed] },
			[],
			[[1, ['look:joints=moves']]]
		],
		[
			'of that too without a moment: joints are pushed after the work',
			{ joints: [moves], attempts: [failed] },
			[],
			[[1, ['look:joints=moves']]]
		],
		[
			'while a look without one was taken before it',
			{ inspection: [bent], attempts: [failed] },
			['look:contacts=bent'],
			[]
		],
		[
			'and says nothing after one that worked',
			{ joints: [moves], attempts: [{ ...failed, resolved: true }] },
			[],
			[]
		]
	])('%s', (_, more, first, since) => {
		expect(answersOf(ticket(more))).toEqual({ first, since });
	});
});

describe('by hand', () => {
	const device = { model: 'tern-6', catalog, battery: [], knownGood: { entries: new Map() } as never };
	const soak = (...looks: [minutes: number, percent: number][]) =>
		MEASUREMENTS.soak.answers(
			looks.map(([minutes, percent]) => ({ minutes, percent })),
			device
		);
	it('a soak answers once it is sure, and not before', () => {
		expect(soak()).toEqual([]);
		expect(soak([0, 90], [5, 89])).toEqual([]);
		expect(soak([0, 90], [30, 86], [60, 81])).toEqual([{ question: 'soak:drain', answer: 'as-it-should' }]);
		expect(soak([0, 90], [30, 75], [60, 60])).toEqual([{ question: 'soak:drain', answer: 'drains-fast' }]);
	});
	it('of each joint the latest push counts', () => {
		const pushed = (...states: PushedState[]) =>
			MEASUREMENTS.joints.answers(
				states.map((state, i) => ({ place: String(i % 2), state })),
				device
			)[0]?.answer;
		expect(pushed()).toBeUndefined();
		expect(pushed('firm', 'firm')).toBe('firm');
		expect(pushed('firm', 'redo')).toBe('moves');
		expect(pushed('moves', 'firm', 'firm')).toBe('firm');
		expect(pushed('firm', 'firm', 'moves')).toBe('moves');
		expect(pushed('moves', 'dry')).toBe('dry');
		expect(pushed('bridged', 'cracked')).toBe('bridged');
	});
	it('of the bench supply and of logs the last counts', () => {
		const shown = (...all: number[][]) =>
			MEASUREMENTS.supply.answers(
				all.map((amps) => ({ volts: 4, amps })),
				device
			);
		expect(shown()).toEqual([]);
		expect(shown([2, 2], [0, 0])).toEqual([{ question: 'supply:start', answer: 'nothing' }]);
		// what is fed instead of the battery is a question of its own
		const fed = { volts: 4, amps: [0.1, 0.3, 0.9], fed: 'battery' as const };
		expect(MEASUREMENTS.supply.answers([{ volts: 4, amps: [0, 0] }, fed], device)).toEqual([
			{ question: 'supply:start', answer: 'nothing' },
			{ question: 'supply:battery', answer: 'steady-climb' }
		]);
	});
	it('where a supply is fed may stand in place of its moment', () => {
		const { entry } = MEASUREMENTS.supply;
		const look = { volts: 4, amps: [0.1, 0.2] };
		expect(entry.parse({ ...look, at: 'battery' })).toEqual({ ...look, fed: 'battery' });
		expect(entry.parse({ ...look, at: '2026-03-02T09:14:00Z', fed: 'battery' })).toEqual({
			...look,
			fed: 'battery',
			at: Date.UTC(2026, 2, 2, 9, 14)
		});
		expect(entry.encode({ ...look, at: Date.UTC(2026, 2, 2, 9, 14) })).toEqual({
			...look,
			at: '2026-03-02T09:14:00Z'
		});
		expect(entry.safeParse({ ...look, at: 'dock' }).error?.issues[0]?.message).toContain('port or battery');
	});
	it('what a stand-in instrument read teaches nothing, in whatever list it stands', () => {
		const simulated = { stage: 'intake' as const, volts: 1.2, meter: 'simulated meter' };
		const real = { stage: 'intake' as const, volts: 3.9 };
		const ticket = {
			...openedTicket('K-1', 0, 'tern-6'),
			battery: [real, simulated],
			path: [{ ...simulated, node: 'port' }]
		};
		const kept = withoutSimulated(ticket);
		expect([kept.battery, kept.path]).toEqual([[real], []]);
		const untouched = { ...ticket, battery: [real], path: [] };
		expect(withoutSimulated(untouched)).toBe(untouched);
	});
});
