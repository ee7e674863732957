import { describe, expect, it } from 'vitest';
import { gateStates } from '../bench/gates';
import {
	ALL,
	after,
	attempt,
	catalog,
	close,
	fresh,
	made,
	NOW,
	passed,
	tryOut
} from '$worlds/changed-tickets';
import { seededRandom } from '../units/random';
import { lifeOf } from './life';
import { STATES, type State } from './states';
import { isRefusal } from './refusal';
import { ruleOf, VERBS, type TicketChangeInput, type Verb } from './ticket-change';
import type { Ticket } from './ticket-record';

const gatesOf = (ticket: Ticket) => gateStates(ticket, catalog);
const stateOf = (ticket: Ticket): State => lifeOf(ticket, gatesOf(ticket)).state;
const also = (ticket: Ticket, ...changes: TicketChangeInput[]) =>
	changes.reduce((now, change, i) => made(now, change, NOW + i + 1), ticket);

describe('the life of a ticket', () => {
	const before = (ticket: Ticket) =>
		[...catalog.gates.values()]
			.filter(({ when }) => when === 'before-sealing')
			.reduce((now, { code }) => made(now, { verb: 'gate', gate: code, passed: true }), ticket);
	const closed = after(close({ outcome: 'not-fixed', paidMinor: 0 }));
	it.each<[State, Ticket]>([
		['taken-in', fresh],
		['quoted', after({ verb: 'quote', priceMinor: 5000 })],
		['accepted', after({ verb: 'quote', priceMinor: 5000 }, { verb: 'answer', accepted: true })],
		['declined', after({ verb: 'quote', priceMinor: 5000 }, { verb: 'answer', accepted: false })],
		[
			'declined',
			after(
				{ verb: 'quote', priceMinor: 5000 },
				{ verb: 'answer', accepted: false },
				{ verb: 'hand-over', to: 'ines' }
			)
		],
		[
			'quoted',
			after(
				{ verb: 'quote', priceMinor: 5000 },
				{ verb: 'answer', accepted: false },
				{ verb: 'quote', priceMinor: 4000 }
			)
		],
		['on-bench', after({ verb: 'hand-over', to: 'ines' })],
		['on-bench', ALL.step[0] && after(ALL.step[1])],
		['waiting', after({ verb: 'wait', for: 'cure', minutes: 10 })],
		['waiting', after({ verb: 'quote', priceMinor: 5000 }, { verb: 'wait', for: 'part' })],
		['repaired', made(fresh, attempt)],
		['on-bench', after({ verb: 'hand-over', to: 'ines' }, { ...attempt, resolved: false })],
		['proved', before(made(fresh, attempt))],
		['sealed', made(before(made(fresh, attempt)), { verb: 'seal' })],
		['repaired', also(made(before(made(fresh, attempt)), { verb: 'seal' }), attempt)],
		['ready', closed],
		['told', also(closed, { verb: 'tell', how: 'telephone' })],
		['paid', also(closed, { verb: 'pay', amountMinor: 500, by: 'cash' })],
		['handed-over', also(closed, { verb: 'collect' })],
		['handed-over', also(closed, { verb: 'collect' }, { verb: 'follow-up', found: 'not-reached' })],
		['followed-up', also(closed, { verb: 'collect' }, { verb: 'follow-up', found: 'trouble' })],
		['taken-in', also(closed, { verb: 'collect' }, { verb: 'reopen' })]
	])('%s', (state, ticket) => expect(stateOf(ticket)).toBe(state));

	it('every state is met, and no change leads where the table does not say', () => {
		const { met, moves } = walk(40_000);
		expect([...met].sort()).toEqual([...STATES].sort());
		const stray = moves.filter(
			({ verb, from, to }) =>
				from !== to && !(ruleOf(verb).moves?.from.includes(from) && ruleOf(verb).moves?.to.includes(to))
		);
		expect(stray).toEqual([]);
		// a row that nothing ever takes is a promise that nobody keeps
		const taken = new Set(moves.filter(({ from, to }) => from !== to).map(({ verb }) => verb));
		expect(VERBS.filter((verb) => ruleOf(verb).moves && !taken.has(verb) && !NO_WALK.has(verb))).toEqual([]);
	}, 60_000);
});

/** Changes that fit a ticket which has lived for a while. */
const FITTING: readonly TicketChangeInput[] = [
	{ verb: 'end-wait', for: 'part' },
	{ verb: 'end-wait', for: 'cure' },
	{ verb: 'answer', accepted: true },
	{ verb: 'pay', amountMinor: 500, by: 'cash' },
	{ verb: 'withdraw', list: 'attempts', index: 0 },
	{ verb: 'put-back', index: 0 },
	{ verb: 'offer', options: [{ label: 'New port', priceMinor: 8900 }], how: 'counter' },
	ALL['start-timer'][1],
	ALL['cancel-timer'][1],
	attempt
];

/** Of these the walk makes none that moves: they need entries that fit each other. */
const NO_WALK = new Set<Verb>(['settle', 'correct', 'close-again']);

/** Changes of every kind, drawn at random, on tickets that live on from change to change. */
function walk(steps: number) {
	const random = seededRandom(7);
	const pick = <Item>(items: readonly Item[]) => items[Math.floor(random() * items.length)] as Item;
	const asked40 = after({ verb: 'quote', priceMinor: 4000 });
	const repaired = made(fresh, attempt);
	const met = new Set<State>(['taken-in']);
	const moves: { verb: Verb; from: State; to: State }[] = [];
	let ticket = fresh;
	let now = NOW;
	for (let i = 0; i < steps; i++) {
		const verb = pick(VERBS);
		const change =
			random() < 0.25 ? close({ outcome: pick(['not-fixed', 'fixed']), paidMinor: 0 }) : ALL[verb][1];
		const chance = random();
		const asked: TicketChangeInput =
			chance < 0.2
				? { verb: 'gate', gate: pick([...catalog.gates.keys()]), passed: random() < 0.9 }
				: chance < 0.4
					? pick(FITTING)
					: change;
		now += 60_000;
		const changed = tryOut(
			chance > 0.97 ? passed(ticket.closedAt === null ? ticket : fresh, now) : ticket,
			asked,
			now
		);
		if (isRefusal(changed)) continue;
		const [from, to] = [stateOf(ticket), stateOf(changed)];
		if (chance <= 0.97) moves.push({ verb: asked.verb, from, to });
		met.add(to);
		ticket = random() < 0.06 ? pick([fresh, asked40, repaired]) : changed;
	}
	return { met, moves };
}
