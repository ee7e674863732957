import { collectedAt } from '../tickets/money';
import type { State } from '../tickets/states';
import type { Ticket } from '../tickets/ticket-record';
import type { Wait } from '../tickets/ticket-entries';
import { DAY_MS, type Instant } from '../units/instant';
import * as words from '../words/compiled/messages.js';
import type { Language } from '../words/customer-language';

type Text = (inputs: Record<string, never>, options: { locale: Language }) => string;

/** Where a device stands, as its owner reads it: plain words, no technician, no cost, no fault. */
const STATE_TEXTS: Record<State, [title: Text, text: Text]> = {
	'taken-in': [words.state_taken_in, words.state_taken_in_text],
	quoted: [words.state_quoted, words.state_quoted_text],
	declined: [words.state_declined, words.state_declined_text],
	accepted: [words.state_accepted, words.state_taken_in_text],
	'on-bench': [words.state_on_bench, words.state_on_bench_text],
	waiting: [words.state_waiting, words.state_waiting_text],
	repaired: [words.state_repaired, words.state_repaired_text],
	proved: [words.state_tested, words.state_proved_text],
	sealed: [words.state_tested, words.state_sealed_text],
	ready: [words.state_ready, words.state_ready_text],
	told: [words.state_ready, words.state_ready_text],
	paid: [words.state_ready, words.state_paid_text],
	'handed-over': [words.state_picked_up, words.state_picked_up_text],
	'followed-up': [words.state_picked_up, words.state_picked_up_text]
};

/** What was found where nothing was repaired. */
const NOT_REPAIRED: Record<Exclude<NonNullable<Ticket['outcome']>, 'fixed'>, Text> = {
	'not-fixed': words.outcome_not_fixed,
	'not-worth-it': words.outcome_not_worth_it,
	declined: words.outcome_declined,
	'no-fault-found': words.outcome_no_fault_found
};

const WAITS: Record<Wait, Text> = {
	customer: words.wait_customer,
	part: words.wait_part,
	cooling: words.wait_cooling,
	cure: words.wait_cure,
	adhesive: words.wait_adhesive,
	charge: words.wait_charge,
	soak: words.wait_soak,
	'pick-up': words.wait_pick_up
};

/** Where a device stands, in its owner's language. */
export function stateWords(
	state: State,
	outcome: Ticket['outcome'],
	language: Language
): { title: string; text: string } {
	const [title, usual] = STATE_TEXTS[state];
	const text = outcome && outcome !== 'fixed' ? NOT_REPAIRED[outcome] : usual;
	return { title: title({}, { locale: language }), text: text({}, { locale: language }) };
}

/** What a device waits for, in its owner's language. */
export const waitWords = (wait: Wait, language: Language): string => WAITS[wait]({}, { locale: language });

/** Until when the page of a device stands: some days after it was handed over; null while it is here. */
export function pageEnds(ticket: Parameters<typeof collectedAt>[0], pageDays: number): Instant | null {
	const from = collectedAt(ticket);
	return from === null ? null : from + pageDays * DAY_MS;
}
