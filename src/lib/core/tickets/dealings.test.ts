import { describe, expect, it } from 'vitest';
import { catalog, NOW } from '$worlds/changed-tickets';
import { trusted } from '../units/codec';
import { agreedOperations, lastAsked } from './agreed';
import { dealingEntry } from './dealing-words';
import { DEALING_KINDS, dealingsOf, dealingsRecord, lastDealing, type Dealing } from './dealings';

const at = '1970-01-01T00:00:01Z';
/** One of each sort, as it is written and as the program has it. */
const PAIRS: [written: object, dealing: Dealing, words: string][] = [
	[
		{ quoted: 89, operations: ['replace-port'], at, by: 'ines' },
		{ kind: 'quote', quotedMinor: 8900, operations: ['replace-port'], at: 1000, by: 'ines' },
		'Quoted for Fit a new port:'
	],
	[
		{ offered: [{ label: 'New port', price: 89 }], deposit: 20, how: 'counter' },
		{ kind: 'offer', offered: [{ label: 'New port', priceMinor: 8900 }], depositMinor: 2000, how: 'counter' },
		'Offered at the counter: New port 89.00.'
	],
	[
		{ accepted: false, why: 'too-dear', how: 'telephone' },
		{ kind: 'answer', accepted: false, why: 'too-dear', how: 'telephone' },
		'Declined by telephone: too expensive.'
	],
	[{ taken_back: true }, { kind: 'take-back' }, 'Price taken back before it was answered.'],
	[
		{ paid: -5, paid_by: 'card', tax: -1 },
		{ kind: 'payment', paidMinor: -500, paidBy: 'card', taxMinor: -100 },
		'Given back by card:'
	],
	[
		{ settled: 30, paid_by: 'transfer' },
		{ kind: 'settlement', settledMinor: 3000, paidBy: 'transfer' },
		'Invoice settled by transfer:'
	],
	[{ sealed: true }, { kind: 'seal' }, 'Sealed.'],
	[
		{ told: true, how: 'page' },
		{ kind: 'told', how: 'page' },
		'Told the customer that it is ready, told on their page.'
	],
	[{ collected: true, at }, { kind: 'pick-up', at: 1000 }, 'Picked up by the customer.'],
	[
		{ followed_up: 'trouble', reason: 'drops out' },
		{ kind: 'follow-up', followedUp: 'trouble', reason: 'drops out' },
		'Follow-up call: problem: “drops out”.'
	],
	[
		{ handed_to: null, done: 'opened' },
		{ kind: 'hand-over', handedTo: null, done: 'opened' },
		'Put back in the queue: done: opened.'
	],
	[{ handed_to: 'bram' }, { kind: 'hand-over', handedTo: 'bram' }, 'Passed to Bram.']
];

describe('a dealing', () => {
	it('of every sort stands in the table', () => {
		expect(new Set(PAIRS.map(([, { kind }]) => kind))).toEqual(new Set(DEALING_KINDS));
	});
	it.each(PAIRS)('%j is read, written and worded', (written, dealing, words) => {
		expect(dealingsRecord.parse([written])).toEqual([dealing]);
		expect(dealingsRecord.encode([dealing])).toEqual([written]);
		const stored = trusted(dealingsRecord);
		expect(stored.read([written])).toEqual([dealing]);
		expect(JSON.stringify(stored.write([dealing]))).toBe(JSON.stringify(dealingsRecord.encode([dealing])));
		expect(dealingEntry(dealing, NOW, catalog)).toMatchObject({ text: words, at: dealing.at ?? NOW });
	});
	it('one entry that says several things is several, each with what goes with it', () => {
		const entry = { quoted: 50, accepted: true, option: 0, operations: ['replace-port'], at };
		const both = [
			{ kind: 'quote', quotedMinor: 5000, operations: ['replace-port'], at: 1000 },
			{ kind: 'answer', accepted: true, option: 0, at: 1000 }
		];
		expect(dealingsRecord.parse([entry])).toEqual(both);
		expect(trusted(dealingsRecord).read([entry])).toEqual(both);
	});
	it.each([
		[{ at }, '', 'says nothing that was agreed'],
		[{ reason: 'x' }, '', 'one of quoted, offered, accepted'],
		[{ paid: 5, why: 'too-dear' }, 'why', 'stands beside paid; it goes with accepted'],
		[{ told: true, tax: 1 }, 'tax', 'stands beside told; it goes with paid']
	])('%j is refused', (entry, field, words) => {
		const [issue] = dealingsRecord.safeParse([entry]).error?.issues ?? [];
		expect(issue?.path).toEqual([0, ...(field ? [field] : [])]);
		expect(issue?.message).toContain(words);
	});
});

describe('what was said last', () => {
	const price = (quotedMinor: number): Dealing => ({ kind: 'quote', quotedMinor });
	const offer: Dealing = {
		kind: 'offer',
		offered: [
			{ label: 'a', priceMinor: 1, operations: ['clean-port'] },
			{ label: 'b', priceMinor: 2, operations: ['replace-port'] }
		]
	};
	const yes = (option?: number): Dealing => ({
		kind: 'answer',
		accepted: true,
		...(option === undefined ? {} : { option })
	});

	it.each<[string, Dealing[], string | undefined, boolean | undefined, readonly string[]]>([
		['nothing', [], undefined, undefined, []],
		['an answer to nothing', [yes()], undefined, undefined, []],
		['a price', [price(1)], 'quote', undefined, []],
		['a price and its answer', [price(1), yes()], 'quote', true, []],
		[
			'an answer to what was asked before it does not count',
			[price(1), yes(), offer],
			'offer',
			undefined,
			['clean-port']
		],
		['the option that was chosen', [offer, yes(1)], 'offer', true, ['replace-port']],
		[
			'the first where a no names none',
			[offer, { kind: 'answer', accepted: false }],
			'offer',
			false,
			['clean-port']
		],
		['taken back', [offer, { kind: 'take-back' }], undefined, undefined, []],
		['asked anew after it', [offer, { kind: 'take-back' }, price(2)], 'quote', undefined, []]
	])('%s', (_, dealings, asked, accepted, operations) => {
		const last = lastAsked({ dealings });
		expect([last.asked?.kind, last.answer?.accepted]).toEqual([asked, accepted]);
		expect(agreedOperations({ dealings })).toEqual(operations);
	});
	it('is found by its sort, and by what counts', () => {
		const dealings = [price(1), yes(0), price(2), yes(1)];
		expect(lastDealing({ dealings }, 'answer')).toEqual(yes(1));
		expect(lastDealing({ dealings }, 'answer', ({ option }) => option === 0)).toEqual(yes(0));
		expect(lastDealing({ dealings }, 'seal')).toBeNull();
		expect(dealingsOf({ dealings }, 'quote')).toEqual([price(1), price(2)]);
	});
});
