import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { buildCatalog } from '../catalog/catalog';
import { DEMO_CATALOG } from '../simulation/demo-catalog';
import { after, by, close, fresh, made, NOW, tryOut } from '$worlds/changed-tickets';
import { DAY_MS } from '../units/instant';
import { taxIn } from '../units/money';
import { agreedOperations } from './agreed';
import { collectedAt, depositDue, dueOf, owedOf, paymentsOf, taxOf } from './money';
import { lastOffer, offerText, standingOffer } from './offer-text';
import { isRefusal } from './refusal';
import type { TicketChangeInput } from './ticket-change';
import type { Ticket } from './ticket-record';
import { ticketTrail } from './trail';

const trade: Ticket = { ...fresh, customer: { name: 'Quayside Bikes', kind: 'trade' } };
const [shop, ...others] = DEMO_CATALOG;
const taxed = buildCatalog([
	{
		...(shop as Extract<typeof shop, { record: 'shop' }>),
		tax: { label: 'VAT', percent: 20 },
		invoice_days: 30
	},
	...others
]);
const onto = (ticket: Ticket, ...inputs: TicketChangeInput[]) =>
	inputs.reduce((changed, input) => made(changed, input), ticket);
const why = (ticket: Ticket, input: TicketChangeInput, now = NOW) => {
	const changed = tryOut(ticket, input, now);
	return isRefusal(changed) ? `${changed.field} ${changed.message}` : 'made';
};
const ways: TicketChangeInput = {
	verb: 'offer',
	options: [
		{ label: 'New port', operations: ['replace-port'], priceMinor: 8900 },
		{ label: 'Traces', operations: ['rebuild-traces', 'reflow-port'], priceMinor: 12_900 }
	],
	validUntil: NOW + DAY_MS,
	depositMinor: 2000
};

describe('payments', () => {
	it('in parts and by kind; what an invoice is settled with is no more income', () => {
		const paid = onto(
			trade,
			{ verb: 'pay', amountMinor: 2000, by: 'cash' },
			{ verb: 'pay', amountMinor: 5000, by: 'invoice', dueAt: NOW + 9 },
			{ verb: 'settle', amountMinor: 3000, by: 'transfer' }
		);
		expect(paid.paidMinor).toBe(7000);
		expect(owedOf(paid)).toBe(2000);
		expect(dueOf(paid)).toBe(NOW + 9);
		expect(paymentsOf(paid).map(({ amountMinor, by: how, settles }) => [amountMinor, how, settles])).toEqual([
			[2000, 'cash', false],
			[5000, 'invoice', false],
			[3000, 'transfer', true]
		]);
		const settled = made(paid, { verb: 'settle', amountMinor: 2000, by: 'cash' });
		expect([owedOf(settled), dueOf(settled)]).toEqual([0, null]);
	});
	it.each<[string, Ticket, TicketChangeInput, string]>([
		['nothing', trade, { verb: 'pay', amountMinor: 0, by: 'cash' }, 'amountMinor is 0'],
		[
			'more back than was paid',
			trade,
			{ verb: 'pay', amountMinor: -1, by: 'cash' },
			'gives back more than the 0.00'
		],
		[
			'an invoice to nobody',
			fresh,
			{ verb: 'pay', amountMinor: 5, by: 'invoice' },
			'by is invoice, and the ticket names no customer'
		],
		[
			'an invoice taken back beyond what is owed',
			made(trade, { verb: 'pay', amountMinor: 500, by: 'cash' }),
			{ verb: 'pay', amountMinor: -100, by: 'invoice' },
			'takes back more than the 0.00'
		],
		[
			'an invoice settled that is none',
			trade,
			{ verb: 'settle', amountMinor: 5, by: 'cash' },
			'settles an invoice, and none is owed'
		],
		['a device handed back that is worked on', fresh, { verb: 'collect' }, 'is open; close it']
	])('%s is refused', (_, ticket, input, words) => expect(why(ticket, input)).toContain(words));
	it('what was paid in all is said at the closing; the rest of it is a payment, or money given back', () => {
		const deposit = made(fresh, { verb: 'pay', amountMinor: 2000, by: 'cash' });
		const closed = made(deposit, close({ outcome: 'not-fixed', paidMinor: 5000, paidBy: 'card' }));
		expect(paymentsOf(closed).map(({ amountMinor, by: how }) => [amountMinor, how])).toEqual([
			[2000, 'cash'],
			[3000, 'card']
		]);
		const back = made(deposit, close({ outcome: 'not-fixed', paidMinor: 0, paidBy: 'cash' }));
		expect(paymentsOf(back).map(({ amountMinor }) => amountMinor)).toEqual([2000, -2000]);
		expect(made(deposit, close({ outcome: 'not-fixed', paidMinor: 2000 })).dealings).toHaveLength(1);
		expect(why(fresh, close({ outcome: 'not-fixed', paidMinor: 5, paidBy: 'invoice' }))).toContain(
			'paidBy is invoice'
		);
	});
	it('a ticket from elsewhere says how much and no more: one payment at its closing', () => {
		const elsewhere = { ...fresh, paidMinor: 4200, closedAt: NOW + 5 };
		expect(paymentsOf(elsewhere)).toEqual([
			{ at: NOW + 5, amountMinor: 4200, taxMinor: 0, by: null, settles: false }
		]);
		expect(paymentsOf({ ...elsewhere, closedAt: null })[0]?.at).toBe(fresh.openedAt);
		expect(paymentsOf(fresh)).toEqual([]);
	});
	it('payments add up to what the ticket says was paid, over any sequence', () => {
		const step = fc.oneof(
			fc.record({
				verb: fc.constant('pay' as const),
				amountMinor: fc.integer({ min: -500, max: 900 }),
				by: fc.constantFrom('cash', 'card', 'invoice')
			}),
			fc.record({
				verb: fc.constant('settle' as const),
				amountMinor: fc.integer({ min: 1, max: 600 }),
				by: fc.constantFrom('cash', 'transfer')
			})
		);
		fc.assert(
			fc.property(fc.array(step, { maxLength: 15 }), (steps) => {
				let ticket = trade;
				for (const input of steps) {
					const changed = tryOut(ticket, input as TicketChangeInput);
					if (!isRefusal(changed)) ticket = changed;
				}
				const payments = paymentsOf(ticket);
				const sum = (some: typeof payments) =>
					some.reduce((total, { amountMinor }) => total + amountMinor, 0);
				const income = payments.filter(({ settles }) => !settles);
				expect(sum(income)).toBe(ticket.paidMinor ?? 0);
				const invoiced = sum(income.filter(({ by: how }) => how === 'invoice'));
				expect(owedOf(ticket)).toBe(invoiced - sum(payments.filter(({ settles }) => settles)));
			})
		);
	});
	it('a credit note is due on no day: it takes back what is owed', () => {
		const billed = tryOut(trade, { verb: 'pay', amountMinor: 3000, by: 'invoice' }, NOW) as Ticket;
		const credited = tryOut(billed, { verb: 'pay', amountMinor: -1000, by: 'invoice' }, NOW) as Ticket;
		expect(credited.dealings.map((dealing) => 'dueAt' in dealing)).toEqual([true, false]);
		expect([owedOf(credited), dueOf(credited)]).toEqual([2000, dueOf(billed)]);
	});
	it('carry the tax that is in them at the rate of their day', () => {
		const paid = tryOut(trade, { verb: 'pay', amountMinor: 12_000, by: 'invoice' }, NOW, taxed) as Ticket;
		expect(paid.dealings).toEqual([
			{
				kind: 'payment',
				paidMinor: 12_000,
				paidBy: 'invoice',
				dueAt: NOW + 30 * DAY_MS,
				taxMinor: 2000,
				at: NOW,
				by
			}
		]);
		// the rate is gone, the tax stays; money given back takes its own along
		const more = made(paid, { verb: 'pay', amountMinor: 100, by: 'cash' });
		expect(taxOf(more)).toBe(2000);
		expect(
			taxOf(tryOut(paid, { verb: 'pay', amountMinor: -6000, by: 'invoice' }, NOW, taxed) as Ticket)
		).toBe(1000);
		expect([taxIn(12_000, 20), taxIn(-12_000, 20), taxIn(100, 19), taxIn(1, 20), taxIn(500, 0)]).toEqual([
			2000, -2000, 16, 0, 0
		]);
	});
	it('the device is back once, and again after it was reopened', () => {
		const back = after(close({ outcome: 'not-fixed', paidMinor: 0 }), { verb: 'collect' });
		expect(collectedAt(back)).toBe(NOW);
		expect(why(back, { verb: 'collect' })).toContain('was handed back already');
		const reopened = made(back, { verb: 'reopen' }, NOW + 1);
		expect(collectedAt(reopened)).toBeNull();
		const closed = made(reopened, close({ outcome: 'not-fixed', paidMinor: 0 }), NOW + 2);
		expect(collectedAt(closed)).toBeNull();
		expect(collectedAt(made(closed, { verb: 'collect' }, NOW + 3))).toBe(NOW + 3);
	});
});

describe('offers', () => {
	const offered = made(fresh, ways);
	it('until one is chosen the first one’s price is asked; then what was chosen is what is done', () => {
		expect([offered.quotedMinor, offered.accepted]).toEqual([8900, null]);
		expect(agreedOperations(offered)).toEqual(['replace-port']);
		const accepted = made(offered, { verb: 'answer', accepted: true, option: 1, how: 'telephone' });
		expect([accepted.quotedMinor, accepted.accepted]).toEqual([12_900, true]);
		expect(agreedOperations(accepted)).toEqual(['rebuild-traces', 'reflow-port']);
		expect(lastOffer(accepted)?.answer?.option).toBe(1);
		const declined = made(offered, { verb: 'answer', accepted: false, why: 'too-slow' });
		expect([declined.quotedMinor, declined.accepted]).toEqual([8900, false]);
	});
	it('a new price is a new version: it takes the place of the offer', () => {
		const anew = onto(
			offered,
			{ verb: 'answer', accepted: true, option: 1 },
			{ verb: 'quote', priceMinor: 500, operations: ['clean-port'] }
		);
		expect(standingOffer(anew)).toBeNull();
		expect(agreedOperations(anew)).toEqual(['clean-port']);
		expect(anew.dealings).toHaveLength(3);
		expect(standingOffer(offered)?.offered).toHaveLength(2);
		expect(standingOffer(made(offered, { verb: 'answer', accepted: false }))).toBeNull();
	});
	it.each<[string, Ticket, TicketChangeInput, string]>([
		[
			'no way said',
			offered,
			{ verb: 'answer', accepted: true },
			'option is not said; the offer has 2 options'
		],
		[
			'a way that there is not',
			offered,
			{ verb: 'answer', accepted: true, option: 2 },
			'option is 2; the last offer has 2 options'
		],
		[
			'a way of what is declined',
			offered,
			{ verb: 'answer', accepted: false, option: 1 },
			'option is of an offer that is accepted'
		],
		[
			'a way of a single price',
			made(fresh, { verb: 'quote', priceMinor: 5 }),
			{ verb: 'answer', accepted: true, option: 0 },
			'the last offer has 0 options'
		],
		['an end that is past', fresh, { ...ways, validUntil: NOW } as TicketChangeInput, 'validUntil is 2026'],
		[
			'a deposit beyond all prices',
			fresh,
			{ ...ways, depositMinor: 12_901 } as TicketChangeInput,
			'depositMinor is more than any option'
		],
		[
			'an operation that there is not',
			fresh,
			{ verb: 'offer', options: [{ label: 'x', operations: ['gone'], priceMinor: 1 }] },
			'options names the operation "gone"'
		]
	])('%s is refused', (_, ticket, input, words) => expect(why(ticket, input)).toContain(words));
	it('after its end it is not accepted, but may be declined', () => {
		expect(why(offered, { verb: 'answer', accepted: true, option: 0 }, NOW + DAY_MS)).toBe('made');
		expect(why(offered, { verb: 'answer', accepted: true, option: 0 }, NOW + DAY_MS + 1)).toContain(
			'when the price ended; offer anew'
		);
		expect(why(offered, { verb: 'answer', accepted: false }, NOW + DAY_MS + 1)).toBe('made');
	});
	it('the deposit is due until it is paid, declined or closed', () => {
		expect(depositDue(offered)).toBe(2000);
		expect(depositDue(made(offered, { verb: 'pay', amountMinor: 500, by: 'card' }))).toBe(1500);
		expect(depositDue(made(offered, { verb: 'pay', amountMinor: 2500, by: 'card' }))).toBe(0);
		expect(depositDue(made(offered, { verb: 'answer', accepted: false }))).toBe(0);
		expect(depositDue(made(offered, { verb: 'quote', priceMinor: 1 }))).toBe(0);
		expect(depositDue(made(offered, close({ outcome: 'not-fixed', paidMinor: 0 })))).toBe(0);
	});
	it('a signature is a drawn line and nothing else', () => {
		const signed = (signature: string) =>
			made(offered, {
				verb: 'answer',
				accepted: true,
				option: 0,
				signature
			} as TicketChangeInput).dealings.at(-1);
		expect(signed('M1 2L3 4')).toMatchObject({ kind: 'answer', signature: 'M1 2L3 4' });
		expect(() => signed('M1 2"/><script>')).toThrow(/drawn line/);
		expect(() => signed(`M1 2${'L3 4'.repeat(6000)}`)).toThrow();
	});
	it('the trail tells all of it in words', () => {
		const told = onto(
			{ ...offered, customer: trade.customer },
			{ verb: 'answer', accepted: true, option: 1, how: 'counter', signature: 'M1 2L3 4' },
			{ verb: 'pay', amountMinor: 2000, by: 'card' },
			{ verb: 'pay', amountMinor: -500, by: 'cash' },
			{ verb: 'pay', amountMinor: 700, by: 'invoice' },
			{ verb: 'settle', amountMinor: 700, by: 'transfer' },
			{ verb: 'count', what: 'pads', number: 3 },
			close({ outcome: 'not-fixed', paidMinor: 2200 }),
			{ verb: 'collect' }
		);
		const lines = ticketTrail(told, taxed).map(({ text, amountMinor }) =>
			amountMinor === undefined ? text : `${text} ${amountMinor}`
		);
		expect(lines).toEqual(
			expect.arrayContaining([
				'Offered: New port 89.00; Traces 129.00.',
				'Accepted option 2 at the counter, signed.',
				'Paid by card: 2000',
				'Given back in cash: 500',
				'Paid on an invoice: 700',
				'Invoice settled by transfer: 700',
				'Counted 3 pads.',
				'Picked up by the customer.'
			])
		);
	});
	it('as a message: every way with its number, what is to be known of it, and how to answer', () => {
		const standing = standingOffer(
			made(trade, {
				verb: 'offer',
				options: [
					{ label: 'New port', priceMinor: 8900, warrantyDays: 90, readyAt: NOW, risks: 'Pads may tear.' },
					{ label: 'Find out first', priceMinor: 0, capMinor: 8900 }
				],
				depositMinor: 1000,
				validUntil: NOW + 1
			})
		);
		if (!standing) throw new Error('none stands');
		const text = offerText(trade, standing, {
			shop: 'The Shop',
			money: (minor) => `€${minor / 100}`,
			date: () => 'Friday',
			language: 'en'
		});
		expect(text).toBe(
			[
				'Dear Quayside Bikes,',
				'for your device (ticket K-1) we can offer:',
				'1. New port: €89. Ready by Friday. Warranty 90 days. Pads may tear.',
				'2. Find out first: €0. We will not go above €89 without asking you.',
				'We ask for a deposit of €10 before we start.',
				'These prices are valid until Friday.',
				'Please tell us which number you choose, or that you decline.',
				'The Shop'
			].join('\n\n')
		);
	});
	it('as a message in German: greeting, cap, warranty and deposit in the customer’s words', () => {
		const standing = standingOffer(
			made(trade, {
				verb: 'offer',
				options: [{ label: 'Neue Buchse', priceMinor: 8900, capMinor: 9900, warrantyDays: 1 }],
				depositMinor: 1000
			})
		);
		if (!standing) throw new Error('none stands');
		const text = offerText(trade, standing, {
			shop: 'The Shop',
			money: (minor) => `€${minor / 100}`,
			date: () => 'Freitag',
			language: 'de'
		});
		expect(text.split('\n\n')).toEqual([
			'Guten Tag Quayside Bikes,',
			'für Ihr Gerät (Auftrag K-1) können wir Ihnen anbieten:',
			'Neue Buchse: €89. Mehr als €99 kostet es nicht, ohne dass wir Sie vorher fragen. 1 Tag Garantie.',
			'Bevor wir beginnen, bitten wir um eine Anzahlung von €10.',
			'Bitte sagen Sie uns Ja oder Nein.',
			'The Shop'
		]);
	});
});

describe('what is told of a device itself', () => {
	it('its own worth and year are noted, corrected and taken away', () => {
		const told = onto(fresh, { verb: 'correct', worthMinor: 25_000, year: 2019 });
		expect([told.worthMinor, told.year]).toEqual([25_000, 2019]);
		expect(told.corrections.map(({ field, from, to }) => [field, from, to])).toEqual([
			['worth', null, '250.00'],
			['year', null, '2019']
		]);
		expect(made(told, { verb: 'correct', worthMinor: null }).worthMinor).toBeUndefined();
		expect(made(told, { verb: 'correct', serial: 'X' }).year).toBe(2019);
	});
});
