import { describe, expect, it } from 'vitest';
import { after, attempt, catalog, close, fresh, made, NOW, passed } from '$worlds/changed-tickets';
import type { Ticket } from '../tickets/ticket-record';
import { DAY_MS } from '../units/instant';
import { calledFor, calledForToday, nextTry } from './called-for';
import { LANGUAGES } from '../words/customer-language';
import { compose, type Facts } from './compose';
import { followUpOf } from './follow-up';
import { pageEnds, stateWords, waitWords } from './own-page';
import { MESSAGE_KINDS } from '../catalog/kinds-of-returns';
import { STATES } from '../tickets/states';

const facts: Facts = {
	name: 'Vida Oakum',
	device: 'Tern 6',
	number: 'K-1',
	shop: 'Saltmarsh Bench',
	promised: 'Friday',
	price: '€ 89.00',
	link: 'http://x/mine/K-1/s',
	warranty: null
};

describe('words', () => {
	const mail = (about: Parameters<typeof compose>[0]['about'], language?: string) => ({
		about,
		channel: 'mail' as const,
		language
	});
	const own = [
		{ about: 'ready' as const, channel: 'mail' as const, subject: 'Done', text: 'For everybody' },
		{ about: 'ready' as const, channel: 'mail' as const, language: 'de', text: 'Fertig: {device}' },
		{ about: 'ready' as const, channel: 'text' as const, text: '{number} ready' }
	];
	it('the program’s where the shop has none, with what is true', () => {
		const { subject, text } = compose(mail('quote'), [], facts, 'en');
		expect(subject).toBe('Tern 6: what the repair costs');
		expect(text).toContain('costs € 89.00');
		expect(text).toContain('http://x/mine/K-1/s');
	});
	it('the program’s in the language that the customer reads', () => {
		const { subject, text } = compose(mail('quote', 'de'), [], facts, 'de');
		expect(subject).toBe('Tern 6: Preis der Reparatur');
		expect(text).toContain('kostet € 89.00');
		expect(text).not.toMatch(/\{|Dear/);
	});
	it.each(MESSAGE_KINDS.flatMap((about) => LANGUAGES.map((language) => [about, language] as const)))(
		'%s in %s names the shop, the customer and the device, and leaves no gap',
		(about, language) => {
			const { subject, text } = compose(mail(about, language), [], { ...facts, warranty: '1 May' }, language);
			for (const part of ['Tern 6', facts.name as string, facts.shop as string]) expect(text).toContain(part);
			expect(subject).toContain('Tern 6');
			expect(`${subject} ${text}`).not.toMatch(/[{}]/);
		}
	);
	it.each([
		['de', 'Fertig: Tern 6', 'Tern 6: abholbereit'],
		['fr', 'For everybody', 'Done'],
		[undefined, 'For everybody', 'Done']
	])('in the language %s: %s', (language, text, subject) =>
		expect(compose(mail('ready', language), own, facts, language === 'de' ? 'de' : 'en')).toEqual({
			subject,
			text
		})
	);
	it('a text message has no subject', () => {
		expect(compose({ about: 'ready', channel: 'text', language: 'de' }, own, facts, 'de')).toEqual({
			subject: null,
			text: 'K-1 ready'
		});
	});
	it('a line that names what is not there is left out', () => {
		expect(compose(mail('how-is-it'), [], facts, 'en').text).not.toMatch(/warranty/i);
		expect(compose(mail('how-is-it'), [], { ...facts, warranty: '1 May' }, 'en').text).toContain(
			'until 1 May'
		);
		expect(compose(mail('taken-in'), [], { ...facts, promised: null }, 'en').text).not.toMatch(/promised|\{/);
	});
});

describe('what a change gives to know', () => {
	const quoted = made(fresh, { verb: 'quote', priceMinor: 8900 });
	const ready = made(passed(after(attempt)), close());
	it.each<[string, Ticket | null, Ticket, string[]]>([
		['taken in', null, fresh, ['taken-in']],
		['a price', fresh, quoted, ['quote']],
		['a second price', quoted, made(quoted, { verb: 'quote', priceMinor: 9900 }), ['quote']],
		['a price that is accepted', quoted, made(quoted, { verb: 'answer', accepted: true }), []],
		['a wait for a part', fresh, made(fresh, { verb: 'wait', for: 'part' }), ['waits-for-part']],
		['a wait to cool', fresh, made(fresh, { verb: 'wait', for: 'cooling' }), []],
		['closed', passed(after(attempt)), ready, ['ready']],
		['handed over', ready, made(ready, { verb: 'collect' }), []],
		['a note', fresh, made(fresh, { verb: 'note', text: 'x' }), []],
		[
			'a note while it waits for a part',
			made(fresh, { verb: 'wait', for: 'part' }),
			made(made(fresh, { verb: 'wait', for: 'part' }), { verb: 'note', text: 'x' }),
			[]
		]
	])('%s', (_, before, now, about) =>
		expect(calledFor(before, now).map((each) => each.about)).toEqual(about)
	);
	it('a second price is another message, the same change the same one', () => {
		const second = made(quoted, { verb: 'quote', priceMinor: 9900 });
		expect(calledFor(fresh, quoted)[0]?.mark).not.toBe(calledFor(quoted, second)[0]?.mark);
		expect(calledFor(fresh, quoted)).toEqual(calledFor(fresh, quoted));
	});
	it('the day: how it does once it is due, the end of a warranty a week before', () => {
		const back = made(ready, { verb: 'collect' });
		const at = (days: number, followUpAt: number | null, until: number | null) =>
			calledForToday(back, {
				followUpAt,
				warrantyUntil: until === null ? null : NOW + until * DAY_MS,
				now: NOW + days * DAY_MS
			}).map(({ about }) => about);
		expect(at(2, NOW + 3 * DAY_MS, 90)).toEqual([]);
		expect(at(3, NOW + 3 * DAY_MS, 90)).toEqual(['how-is-it']);
		expect(at(82.9, null, 90)).toEqual([]);
		expect(at(83.1, null, 90)).toEqual(['warranty-ends']);
		expect(at(90.1, null, 90)).toEqual([]);
		expect(at(6, null, 10)).toEqual([]);
		expect(calledForToday(ready, { followUpAt: 0, warrantyUntil: null, now: NOW })).toEqual([]);
	});
	it('pauses grow, and end', () => {
		const pauses = [1, 2, 3, 4, 5].map((tries) => (nextTry(tries, NOW) ?? 0) - NOW);
		expect([...pauses].sort((a, b) => a - b)).toEqual(pauses);
		expect(new Set(pauses).size).toBe(5);
		expect(nextTry(6, NOW)).toBeNull();
	});
});

describe('a call some days after', () => {
	const ready = made(passed(after(attempt)), close());
	const back = made(ready, { verb: 'collect' });
	const at = (days: number) => NOW + days * DAY_MS;
	it('three days after handing over, sooner where it is risky', () => {
		expect(followUpOf(back, catalog, NOW)).toMatchObject({ dueAt: at(3), risks: [] });
		const torn = {
			...back,
			counts: [
				{ what: 'pads', number: 2 },
				{ what: 'pads', number: 5 }
			]
		};
		expect(followUpOf(torn, catalog, NOW)).toMatchObject({ dueAt: at(1.5), risks: ['5 pads'] });
		const few = { ...back, counts: [{ what: 'pads', number: 2 }] };
		expect(followUpOf(few, catalog, NOW)?.risks).toEqual([]);
		const second = { ...back, attempts: [{ operation: 'clean-port', resolved: false }, ...back.attempts] };
		expect(followUpOf(second, catalog, NOW)?.risks[0]).toMatch(/after one that failed/);
	});
	it('joints of low melt are a risk, those of others are none', () => {
		const procedure = [...catalog.records.procedure.values()].find(({ code }) => code === 'port-low-melt');
		const step = procedure?.steps.findIndex(({ alloy }) => alloy === 'sn42bi58') ?? -1;
		const did = (at: number) => ({
			...back,
			steps: [{ procedure: 'port-low-melt', version: 1, step: at, did: 'done' as const }]
		});
		expect(step).toBeGreaterThanOrEqual(0);
		expect(followUpOf(did(step), catalog, NOW)?.risks).toEqual(['joints of low melt']);
		expect(followUpOf(did(0), catalog, NOW)?.risks).toEqual([]);
	});
	it.each<[string, Ticket, number, boolean]>([
		['not handed over', ready, 3, false],
		['two weeks later', back, 14.01, false],
		['just before', back, 13.9, true],
		['asked and it holds', made(back, { verb: 'follow-up', found: 'holds' }, at(3)), 4, false],
		['nobody was reached', made(back, { verb: 'follow-up', found: 'not-reached' }, at(3)), 4, true],
		['not fixed', { ...back, outcome: 'not-fixed' }, 3, false]
	])('%s', (_, ticket, days, due) => expect(followUpOf(ticket, catalog, at(days)) !== null).toBe(due));
	it('nobody was reached: the day after', () => {
		const tried = made(back, { verb: 'follow-up', found: 'not-reached' }, at(4));
		expect(followUpOf(tried, catalog, at(4))?.dueAt).toBe(at(5));
	});
	it('asks whether what it came in with is gone, and after the data where it matters', () => {
		const ask = (more: Partial<Ticket>) => followUpOf({ ...back, ...more }, catalog, NOW)?.ask ?? [];
		expect(ask({ signs: { 'no-charge': true, dropped: true, 'port-loose': false } })).toEqual([
			'It was brought in with “does not charge”. Is that gone?'
		]);
		expect(ask({})).toHaveLength(1);
		expect(ask({ matters: 'data' }).at(-1)).toMatch(/data/);
	});
	it('a page ends some days after handing over, not before', () => {
		expect(pageEnds(ready, 30)).toBeNull();
		expect(pageEnds(back, 30)).toBe(at(30));
	});
});

describe('where a device stands, as its owner reads it', () => {
	it.each(LANGUAGES)('each state and each outcome has its words in %s', (language) => {
		for (const state of STATES) {
			const { title, text } = stateWords(state, null, language);
			expect(title).toMatch(/^\p{Lu}/u);
			expect(text).toMatch(/\.$/);
		}
		const outcomes = (['not-fixed', 'not-worth-it', 'declined', 'no-fault-found'] as const).map(
			(outcome) => stateWords('ready', outcome, language).text
		);
		expect(new Set([...outcomes, stateWords('ready', null, language).text]).size).toBe(5);
		expect(stateWords('ready', 'fixed', language)).toEqual(stateWords('ready', null, language));
	});
	it.each([
		['part', 'en', 'a part that is on its way'],
		['part', 'de', 'ein Ersatzteil, das unterwegs ist'],
		['customer', 'de', 'Ihre Antwort']
	] as const)('a wait for %s in %s', (wait, language, words) =>
		expect(waitWords(wait, language)).toBe(words)
	);
});
