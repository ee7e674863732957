import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { codeFromLabel, codeSchema } from './code';
import { formatInstant, instantTextSchema, parseInstant } from './instant';
import { amountProblem, amountSchema, fromMinor, parseAmount, toMinor } from './money';
import { shopFormat } from './shop-format';
import { drawIndex, drawNormal, drawOne, seededRandom } from './random';

describe("a shop's way of writing", () => {
	const shop = { currency: 'EUR', timeZone: 'UTC', locale: 'en-GB' };
	it('is made once, and anew where currency, zone or locale differ', () => {
		expect(shopFormat({ ...shop })).toBe(shopFormat(shop));
		const written = (settings: typeof shop) => {
			const format = shopFormat(settings);
			return [format.money(123456), format.moment(Date.UTC(2026, 2, 2, 23, 30))];
		};
		expect(written(shop)).toEqual(['€1,234.56', 'Mon 2 Mar 23:30']);
		expect(written({ ...shop, currency: 'USD' })[0]).toBe('US$1,234.56');
		expect(written({ ...shop, timeZone: 'Europe/Berlin' })[1]).toBe('Tue 3 Mar 0:30');
		expect(written({ ...shop, locale: 'de-DE' })[0]).toBe('1.234,56\u00a0€');
	});
	it('does not grow with every shop that was ever seen', () => {
		const first = shopFormat(shop);
		for (let i = 0; i < 60; i++) shopFormat({ ...shop, locale: `en-GB-x-shop${i}` });
		expect(shopFormat(shop)).not.toBe(first);
	});
});

describe('money', () => {
	it.each([
		['89', 8900],
		['89.5', 8950],
		['89,50', 8950],
		['1 200', 120000],
		["1'200.05", 120005],
		['', null],
		['-3', null],
		['3.999', null],
		['12.3.4', null]
	])('reads %j as %j', (typed, minor) => expect(parseAmount(typed, null)).toBe(minor));

	it.each([
		// a lone mark with three digits behind it: the shop's locale decides where the mark is its own between thousands
		['1,200', 'en-GB', 120_000],
		['12,500', 'en-US', 1_250_000],
		['1.200', 'de-DE', 120_000],
		['1,200', 'de-DE', null],
		['1.200', 'en-GB', null],
		['12,500', 'fr-FR', null],
		['1,200', null, null],
		['12.500', null, null],
		// one reading alone
		['1,20', 'en-GB', 120],
		['1200,50', 'de-DE', 120_050],
		['0,500', 'en-GB', 50],
		['1,200.50', 'de-DE', 120_050],
		['1.200,50', 'en-GB', 120_050],
		['1,200,500', null, 120_050_000],
		['1.200.500,25', null, 120_050_025],
		['1,20,500', null, null],
		['1.2.3', null, null]
	])('%j in %s is %s', (typed, locale, minor) => expect(parseAmount(typed, locale)).toBe(minor));

	it('names both readings, and how to write either', () => {
		expect(amountProblem('1,200')).toBe('is “1,200”, which can mean 1200.00 or 1.20; write 1200 or 1.20');
		expect(amountProblem('12.500')).toBe(
			'is “12.500”, which can mean 12500.00 or 12.50; write 12500 or 12.50'
		);
		expect(amountProblem('abc')).toBe('is “abc”; write an amount such as 89.50');
		expect(amountProblem('x'.repeat(5000)).length).toBeLessThan(90);
		expect(amountSchema.safeParse('1,200').error?.issues[0]?.message).toBe(amountProblem('1,200'));
	});

	it.each(['en-GB', 'de-DE', 'fr-FR', 'es-ES', 'pl-PL'])('reads back what %s writes', (locale) => {
		const format = new Intl.NumberFormat(locale, { minimumFractionDigits: 2, useGrouping: true });
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 9_999_999_999 }), (minor) => {
				expect(parseAmount(format.format(minor / 100), locale)).toBe(minor);
			})
		);
	});

	it('keeps every two-decimal amount exact through hundredths', () => {
		fc.assert(
			fc.property(fc.integer({ min: 0, max: 9_999_999_999 }), (minor) => {
				expect(toMinor(fromMinor(minor))).toBe(minor);
			})
		);
	});

	it('refuses a third decimal and names the value', () => {
		expect(amountSchema.safeParse(3.9).success).toBe(true);
		const refused = amountSchema.safeParse(3.999);
		expect(refused.error?.issues[0]?.message).toContain('3.999');
	});
});

describe('instants', () => {
	it.each([
		['2026-03-02T09:14:00Z', '2026-03-02T09:14:00Z'],
		['2026-03-02T10:14:00+01:00', '2026-03-02T09:14:00Z'],
		['2026-03-02T09:14:00.250Z', '2026-03-02T09:14:00.250Z']
	])('%s is written as %s', (text, written) => {
		expect(instantTextSchema.safeParse(text).success).toBe(true);
		expect(formatInstant(parseInstant(text))).toBe(written);
	});
	it.each(['2026-03-02', '2026-03-02T09:14:00', 'yesterday', '2026-13-02T09:14:00Z'])('refuses %s', (text) =>
		expect(instantTextSchema.safeParse(text).success).toBe(false)
	);
});

describe('codes', () => {
	it.each(['port-contacts', 'a', '9.x_y-z'])('takes %s', (code) =>
		expect(codeSchema.safeParse(code).success).toBe(true)
	);
	it.each(['', '-a', 'Port', 'a b', 'x'.repeat(65)])('refuses %j', (code) =>
		expect(codeSchema.safeParse(code).success).toBe(false)
	);
	it('makes a code of any label that has a letter or digit', () => {
		fc.assert(
			fc.property(fc.string(), (label) => {
				const code = codeFromLabel(`${label} 7`);
				expect(codeSchema.safeParse(code).success).toBe(true);
			})
		);
		expect(codeFromLabel('Pelagic 40 · Ölig')).toBe('pelagic-40-o-lig');
	});
});

describe('seeded chance', () => {
	it('repeats itself for a seed and differs between seeds', () => {
		const first = seededRandom(7);
		const again = seededRandom(7);
		const other = seededRandom(8);
		const draws = Array.from({ length: 5 }, () => first());
		expect(Array.from({ length: 5 }, () => again())).toEqual(draws);
		expect(other()).not.toBe(draws[0]);
	});
	it('has the mean and spread of what it claims to draw', () => {
		const random = seededRandom(1);
		const normals = Array.from({ length: 20_000 }, () => drawNormal(random));
		const mean = normals.reduce((a, b) => a + b, 0) / normals.length;
		const variance = normals.reduce((a, b) => a + (b - mean) ** 2, 0) / normals.length;
		expect(Math.abs(mean)).toBeLessThan(0.03);
		expect(Math.abs(variance - 1)).toBeLessThan(0.05);
		const picks = Array.from({ length: 20_000 }, () => drawIndex(random, [1, 3]));
		expect(picks.filter((pick) => pick === 1).length / 20_000).toBeCloseTo(0.75, 1);
	});
	it('throws on nothing to draw from', () => expect(() => drawOne(seededRandom(1), [])).toThrow());
});
