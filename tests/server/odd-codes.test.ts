import { inOneGo } from '$lib/core/units/in-steps';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { scheduleBody } from '$lib/core/exchange/schedule-schemas';
import { planBench } from '$lib/core/bench/schedule/search';
import { adviseSteps, STEPS_OF_THE_API } from '$lib/server/diagnosis/advice';
import type { Database } from '$lib/server/database/connection';
import { exportLines } from '$lib/server/exchange/export';
import { importLines } from '$lib/server/exchange/import';
import { shopMemory } from '$lib/server/memory/shop-memory';
import { findTicket } from '$lib/server/tickets/queries';
import { freshDatabase } from './fresh-database';
import { jsonLines, NOW } from './small-shop';

/** A code that fits the pattern is a code: the names that every object of the language has are codes like any other. */
const NAMES = ['constructor', 'valueof', 'tostring', 'hasownproperty'];
let db: Database;

const catalog = NAMES.flatMap((code) => [
	{ record: 'connector', code, label: code, pins: [{ pin: '1', net: 'vbus' }] },
	{ record: 'sign', code, label: code, kind: 'symptom' },
	{ record: 'fault', code, label: code },
	{ record: 'test', code, label: code, minutes: 3, outcomes: [code, 'other'] },
	{ record: 'expectation', given: code, test: code, outcomes: { [code]: 0.9, other: 0.1 }, weight: 10 },
	{ record: 'expectation', given: code, sign: code, chance: 0.9, weight: 10 },
	{
		record: 'operation',
		code,
		label: code,
		minutes: 20,
		fixes: [code],
		per: { count: code, usual: 1, each: 5 }
	},
	{ record: 'technician', code, name: code, hourly_cost: 30 },
	{ record: 'part', sku: code, label: code, unit_cost: 3 },
	{ record: 'model', code, label: code, connector: code, value: 100 }
]);
const tickets = NAMES.map((code, i) => ({
	record: 'ticket',
	number: code,
	opened_at: `2026-0${i + 1}-01T08:00:00Z`,
	closed_at: `2026-0${i + 1}-02T08:00:00Z`,
	model: code,
	signs: { [code]: true },
	observations: [{ test: code, outcome: code }],
	attempts: [{ operation: code, resolved: true, technician: code, minutes: 10 }],
	counts: [{ what: code, number: 3 }],
	parts: [{ sku: code, quantity: 1 }],
	faults: [code],
	outcome: 'fixed'
}));

beforeAll(async () => {
	db = await freshDatabase();
});
afterAll(() => db.destroy());

it('they come in, are learnt and advised on, and go out again', async () => {
	const answer = await importLines(db, 'test', NOW, jsonLines([...catalog, ...tickets]));
	expect(answer.rejected).toEqual([]);
	const memory = await shopMemory(db);
	expect(memory.engine.learned.tickets).toBe(NAMES.length);
	for (const code of NAMES) {
		const stored = await findTicket(db, code);
		expect(stored?.ticket.signs).toEqual({ [code]: true });
		const asked = { ...stored!.ticket, attempts: [], closedAt: null, outcome: null };
		const { inference, plan } = adviseSteps(memory, asked, STEPS_OF_THE_API);
		expect(inference.odds.faults[0]?.code).toBe(code);
		expect(plan.next.length).toBeGreaterThan(0);
	}
	const out: string[] = [];
	for await (const line of exportLines(db)) out.push(line);
	for (const code of NAMES) expect(out.join('')).toContain(`"signs":{"${code}":true}`);
});

it('a technician of such a name is planned where they can do it, and nowhere else', () => {
	const asked = scheduleBody.parse({
		technicians: [{ code: 'constructor' }, { code: 'ada' }],
		jobs: [
			{ job: 'x', tasks: [{ task: 'one', by: { constructor: 10 } }] },
			{ job: 'y', tasks: [{ task: 'two', by: { ada: 10 } }] }
		],
		objective: 'makespan'
	});
	const search = planBench(asked as Parameters<typeof planBench>[0], { used: () => 1 });
	const { tasks } = inOneGo(search);
	expect(tasks.map(({ technician }) => technician).sort()).toEqual(['ada', 'constructor']);
});
