import { describe, expect, it } from 'vitest';
import { DAY_MS } from '$lib/core/units/instant';
import { blankWay, readOffer, typedWay, type TypedWay } from './offer-draft';

const NOW = Date.UTC(2026, 10, 27, 9);
const way = (more: Partial<TypedWay> = {}): TypedWay => ({
	...blankWay(),
	label: 'New port',
	price: '89.50',
	...more
});
const read = (ways: TypedWay[], more: { valid?: string; deposit?: string } = {}) =>
	readOffer(
		ways,
		{ valid: '14', deposit: '', how: 'counter', ...more },
		{ now: NOW, locale: 'en-GB' },
		(days) => NOW + days * DAY_MS + 1
	);

describe('an offer as it is typed', () => {
	it('is read field by field; what is not ticked stays out, and what is empty is not said', () => {
		const answer = read(
			[
				way({ cap: '120', warranty: '90', ready: '3', risks: ' may tear ', operations: ['replace-port'] }),
				way({ taken: false, label: '', price: 'x' }),
				way({ label: 'By hand' })
			],
			{ deposit: '20,00' }
		);
		expect(JSON.parse(JSON.stringify(answer))).toEqual({
			ok: true,
			change: {
				verb: 'offer',
				how: 'counter',
				options: [
					{
						label: 'New port',
						priceMinor: 8950,
						operations: ['replace-port'],
						capMinor: 12_000,
						warrantyDays: 90,
						readyAt: NOW + 3 * DAY_MS + 1,
						risks: 'may tear'
					},
					{ label: 'By hand', priceMinor: 8950 }
				],
				validUntil: NOW + 14 * DAY_MS,
				depositMinor: 2000
			}
		});
	});
	it('holds for a day at least, and for ever where nothing is said', () => {
		const until = (valid: string) => {
			const answer = read([way()], { valid });
			return answer.ok ? answer.change.validUntil : answer.problem;
		};
		expect([until('0'), until('')]).toEqual([NOW + DAY_MS, undefined]);
	});
	it.each<[string, TypedWay[], { valid?: string; deposit?: string }, string]>([
		['nothing ticked', [way({ taken: false })], {}, 'No option is selected'],
		['nine ticked', Array.from({ length: 9 }, () => way()), {}, '9 options are selected'],
		['no words', [way({ label: ' ' })], {}, 'An option has no description'],
		['a price that is none', [way({ price: '8o' })], {}, 'Price of “New port” is “8o”'],
		['no price', [way({ price: '' })], {}, 'Price of “New port” is “”'],
		['a cap that is none', [way({ cap: 'x' })], {}, '“No more than” of “New port” is “x”'],
		['half a day of warranty', [way({ warranty: '1.5' })], {}, 'Warranty of “New port” is “1.5”'],
		['ready in two years', [way({ ready: '800' })], {}, '“Ready in” of “New port” is “800”'],
		['a validity that is none', [way()], { valid: 'soon' }, '“Valid” is “soon”'],
		['a deposit that is none', [way()], { deposit: '-5' }, 'Deposit is “-5”']
	])('%s is said by its field', (_, ways, more, words) => {
		const answer = read(ways, more);
		expect(answer.ok ? 'read' : answer.problem).toContain(words);
	});
	it('a way that was found is typed as it would be', () => {
		const draft = {
			kind: 'find-out' as const,
			label: 'Find out',
			operations: [],
			priceMinor: 1500,
			capMinor: 8900,
			warrantyDays: 0,
			risks: null,
			minutes: null,
			chanceFixed: null,
			comebackChance: null,
			accepted: null,
			profitMinor: null,
			chosen: true
		};
		expect(typedWay(draft, '3')).toMatchObject({
			taken: true,
			price: '15.00',
			cap: '89.00',
			warranty: '',
			ready: ''
		});
		expect(typedWay({ ...draft, kind: 'repair', warrantyDays: 90 }, '3')).toMatchObject({
			warranty: '90',
			ready: '3'
		});
	});
});
