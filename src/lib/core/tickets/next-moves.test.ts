import { describe, expect, it } from 'vitest';
import { STATES, type State } from './states';
import { nextMoves, ruleOf, ticketChangeSchema, VERBS } from './ticket-change';

/** By state, what leads on from it beside panels; the last leads where it is marked. */
const EXPECTED: Partial<Record<State, string[]>> = {
	proved: ['Seal*'],
	ready: ['Told by telephone', 'Told by message', 'Hand back*'],
	told: ['Hand back*'],
	paid: ['Hand back*'],
	'handed-over': ['Working', 'Problem', 'No answer']
};

describe('what leads on from where a ticket stands', () => {
	it.each(STATES)('%s', (state) => {
		const labels = nextMoves(state).map(({ label, leads }) => (leads ? `${label}*` : label));
		expect(labels).toEqual(EXPECTED[state] ?? []);
	});
	it('is a whole change each, of a verb that moves a ticket on from there', () => {
		for (const state of STATES) {
			for (const { change } of nextMoves(state)) {
				expect(ticketChangeSchema.safeParse(change).success, `${state}: ${change.verb}`).toBe(true);
				expect(ruleOf(change.verb).moves?.from, change.verb).toContain(state);
			}
		}
	});
	it('is told of every verb that moves a ticket: on a button of its own, or of a panel', () => {
		const withButtons = VERBS.filter((verb) => {
			const button = ruleOf(verb).moves?.button;
			return button !== undefined && button !== 'of a panel';
		});
		expect(withButtons.sort()).toEqual(['collect', 'follow-up', 'seal', 'tell']);
	});
});
