import type { Catalog } from '../catalog/catalog';
import { codeWords } from '../units/code';
import type { Instant } from '../units/instant';
import type { Dealing, DealingKind, DealingOf } from './dealings';
import type { DECLINES } from './ticket-entries';
import type { TrailEntry } from './trail-entry';

const PAID_WORDS = { cash: 'in cash', card: 'by card', transfer: 'by transfer', invoice: 'on an invoice' };
const HOW_WORDS = {
	counter: 'at the counter',
	telephone: 'by telephone',
	message: 'by message',
	page: 'on their page'
};
/** Why a price was declined, as the counter asks it and the trail tells it. */
export const DECLINE_WORDS: Record<(typeof DECLINES)[number], string> = {
	'too-dear': 'too expensive',
	'too-slow': 'too slow',
	'buys-new': 'buying a new one',
	other: 'gave no reason'
};
const FOUND_WORDS = { holds: 'working', trouble: 'problem', 'not-reached': 'no answer' };

/** A line of the trail without its moment and its hand. */
type Line = Pick<TrailEntry, 'kind' | 'text' | 'amountMinor'>;
const channelWords = (channel: keyof typeof HOW_WORDS | undefined) =>
	channel ? ` ${HOW_WORDS[channel]}` : '';
const paidBy = (method: keyof typeof PAID_WORDS | undefined) => (method ? ` ${PAID_WORDS[method]}` : '');

/** Every sort of dealing has its words: one without does not compile. */
const LINES: { [Kind in DealingKind]: (dealing: DealingOf<Kind>, catalog: Catalog) => Line } = {
	quote({ quotedMinor, operations = [] }, catalog) {
		const labels = operations.map((code) => catalog.operations.get(code)?.label ?? codeWords(code));
		const text = labels.length > 0 ? `Quoted for ${labels.join(' + ')}:` : 'Quoted';
		return { kind: 'quoted', text, amountMinor: quotedMinor };
	},
	offer(dealing) {
		const options = dealing.offered.map(
			({ label, priceMinor }) => `${label} ${(priceMinor / 100).toFixed(2)}`
		);
		return { kind: 'quoted', text: `Offered${channelWords(dealing.how)}: ${options.join('; ')}.` };
	},
	answer: (dealing) => ({ kind: 'quoted', text: answerWords(dealing) }),
	'take-back': () => ({ kind: 'quoted', text: 'Price taken back before it was answered.' }),
	payment: ({ paidMinor, paidBy: method }) => ({
		kind: 'quoted',
		text: `${paidMinor < 0 ? 'Given back' : 'Paid'}${paidBy(method)}:`,
		amountMinor: Math.abs(paidMinor)
	}),
	settlement: ({ settledMinor, paidBy: method }) => ({
		kind: 'quoted',
		text: `Invoice settled${paidBy(method)}:`,
		amountMinor: settledMinor
	}),
	seal: () => ({ kind: 'proved', text: 'Sealed.' }),
	told: (dealing) => ({
		kind: 'noted',
		text: `Told the customer that it is ready${dealing.how ? `, told${channelWords(dealing.how)}` : ''}.`
	}),
	'pick-up': () => ({ kind: 'noted', text: 'Picked up by the customer.' }),
	'follow-up': ({ followedUp, reason }) => ({
		kind: 'noted',
		text: `Follow-up call: ${FOUND_WORDS[followedUp]}${reason ? `: “${reason}”` : ''}.`
	}),
	'hand-over': ({ handedTo: to, reason, done: workDone, leftAt }, catalog) => {
		const where =
			to === null
				? 'Put back in the queue'
				: `Passed to ${catalog.technicians.get(to)?.name ?? codeWords(to)}`;
		const words = [reason, workDone && `done: ${workDone}`, leftAt && `parts and screws: ${leftAt}`].filter(
			Boolean
		);
		return { kind: 'noted', text: words.length > 0 ? `${where}: ${words.join('; ')}.` : `${where}.` };
	}
};

function answerWords({
	accepted,
	option,
	how: channel,
	signature,
	why: reason
}: DealingOf<'answer'>): string {
	if (!accepted) {
		return `Declined${channelWords(channel)}${reason && reason !== 'other' ? `: ${DECLINE_WORDS[reason]}` : ''}.`;
	}
	const optionText = option === undefined ? '' : ` option ${option + 1}`;
	return `Accepted${optionText}${channelWords(channel)}${signature ? ', signed' : ''}.`;
}

/** What was agreed as a line of the trail: a price, an offer, its answer, money, whose hands the device is in. */
export function dealingEntry(dealing: Dealing, opened: Instant, catalog: Catalog): TrailEntry {
	const line = LINES[dealing.kind] as (dealing: Dealing, catalog: Catalog) => Line;
	return { at: dealing.at ?? opened, by: dealing.by ?? null, ...line(dealing, catalog) };
}
