import type { Catalog } from '../catalog/catalog';
import { codeWords } from '../units/code';
import type { Instant } from '../units/instant';
import type { Dealing } from './ticket-record';
import type { TrailEntry } from './trail-entry';

const PAID_WORDS = { cash: 'in cash', card: 'by card', transfer: 'by transfer', invoice: 'on an invoice' };

/** What was agreed as a line of the trail: a price, an offer, its answer, money, whose hands the device goes to. */
export function dealingEntry(dealing: Dealing, opened: Instant, catalog: Catalog): TrailEntry {
	const { at, by } = dealing;
	const entry = (kind: TrailEntry['kind'], text: string, amountMinor?: number): TrailEntry => ({
		at: at ?? opened,
		by: by ?? null,
		kind,
		text,
		...(amountMinor === undefined ? {} : { amountMinor })
	});
	const { quotedMinor, offered, accepted, paidMinor, settledMinor, paidBy } = dealing;
	if (quotedMinor !== undefined) {
		const labels = (dealing.operations ?? []).map(
			(code) => catalog.operations.get(code)?.label ?? codeWords(code)
		);
		return entry('quoted', labels.length > 0 ? `Quoted for ${labels.join(' + ')}:` : 'Quoted', quotedMinor);
	}
	if (offered) return entry('quoted', offerWords(dealing, offered));
	if (dealing.takenBack) return entry('quoted', 'Price taken back before it was answered.');
	if (accepted !== undefined) return entry('quoted', answerWords(dealing));
	const how = paidBy ? ` ${PAID_WORDS[paidBy]}` : '';
	if (paidMinor !== undefined) {
		return entry('quoted', `${paidMinor < 0 ? 'Given back' : 'Paid'}${how}:`, Math.abs(paidMinor));
	}
	if (settledMinor !== undefined) return entry('quoted', `Invoice settled${how}:`, settledMinor);
	if (dealing.sealed) return entry('proved', 'Closed up and sealed.');
	if (dealing.told) {
		return entry(
			'noted',
			`The customer knows that it is ready${dealing.how ? `, told ${HOW_WORDS[dealing.how]}` : ''}.`
		);
	}
	if (dealing.followedUp) {
		const said = dealing.reason ? `: “${dealing.reason}”` : '';
		return entry('noted', `Asked after the pick-up: ${FOUND_WORDS[dealing.followedUp]}${said}.`);
	}
	if (dealing.collected) return entry('noted', 'Handed back to the customer.');
	return entry('noted', handedWords(dealing, catalog));
}

const FOUND_WORDS = { holds: 'it holds', trouble: 'there is trouble', 'not-reached': 'nobody was reached' };

function handedWords({ handedTo: to, reason, done, leftAt }: Dealing, catalog: Catalog): string {
	const where =
		to == null ? 'Put back on the rack' : `Handed to ${catalog.technicians.get(to)?.name ?? codeWords(to)}`;
	const words = [reason, done && `done: ${done}`, leftAt && `parts and screws: ${leftAt}`].filter(Boolean);
	return words.length > 0 ? `${where}: ${words.join('; ')}.` : `${where}.`;
}

const HOW_WORDS = {
	counter: 'at the counter',
	telephone: 'by telephone',
	message: 'by message',
	page: 'on their page'
};

function offerWords({ how }: Dealing, offered: NonNullable<Dealing['offered']>): string {
	const ways = offered.map(({ label, priceMinor }) => `${label} ${(priceMinor / 100).toFixed(2)}`);
	return `Offered${how ? ` ${HOW_WORDS[how]}` : ''}: ${ways.join('; ')}.`;
}

function answerWords({ accepted, option, how, signature, why }: Dealing): string {
	const where = how ? ` ${HOW_WORDS[how]}` : '';
	if (!accepted) return `The customer says no${where}${why && why !== 'other' ? `: ${codeWords(why)}` : ''}.`;
	const which = option === undefined ? '' : ` to way ${option + 1}`;
	return `The customer says yes${which}${where}${signature ? ', signed' : ''}.`;
}
