import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { listOf, moment, money, orNull, renamed, trusted, withNames } from './codec';
import { EARLIEST_INSTANT, formatInstant, instantTextSchema, LATEST_INSTANT, parseInstant } from './instant';
import { parseAmount } from './money';
import { readNumber, readNumberWithin } from './typed-number';

describe('moments', () => {
	it('are written and read as the language’s own dates are, whatever came before', () => {
		fc.assert(
			fc.property(
				fc.array(fc.integer({ min: EARLIEST_INSTANT, max: LATEST_INSTANT }), { minLength: 1, maxLength: 6 }),
				(all) => {
					for (const at of all) {
						const text = new Date(at).toISOString().replace('.000Z', 'Z');
						expect(formatInstant(at)).toBe(text);
						expect(parseInstant(text)).toBe(at);
					}
				}
			)
		);
		// fractions, offsets and days that were just read
		expect(parseInstant('2026-03-02T09:14:00+02:00')).toBe(Date.UTC(2026, 2, 2, 7, 14));
		expect(parseInstant('2026-03-02T09:14:00.5Z')).toBe(Date.UTC(2026, 2, 2, 9, 14, 0, 500));
		expect(formatInstant(Date.UTC(2026, 2, 2, 9, 14, 0, 7))).toBe('2026-03-02T09:14:00.007Z');
	});
	it.each<[string, boolean]>([
		['1970-01-01T00:00:00Z', true],
		['1969-12-31T23:59:59Z', false],
		['2199-12-31T23:59:59Z', true],
		['2200-01-01T00:00:00Z', false],
		['2026-03-02T09:14:00', false],
		['2026-02-30T09:14:00Z', false],
		['2026-03-02T25:14:00Z', false],
		['2026-03-02', false]
	])('%s is taken: %s', (text, taken) => expect(instantTextSchema.safeParse(text).success).toBe(taken));
});

describe('shapes that read and write', () => {
	const shape = renamed(
		z.strictObject({
			code: z.string(),
			opened_at: moment,
			closed_at: orNull(moment),
			price: money.optional(),
			times: listOf(renamed(z.strictObject({ at_ms: moment.optional(), n: z.int() }), { at_ms: 'at' }), 3),
			kind: z.enum(['a', 'b']).default('a'),
			both: z.array(z.tuple([z.string(), z.number()])).optional()
		}),
		{ opened_at: 'openedAt', closed_at: 'closedAt', price: 'priceMinor' }
	);
	const wire = {
		code: 'x',
		opened_at: '2026-01-01T00:00:00Z',
		price: 3.9,
		times: [{ n: 1 }, { at_ms: '2026-01-02T00:00:00Z', n: 2 }]
	};
	const inside = {
		code: 'x',
		openedAt: Date.UTC(2026, 0, 1),
		closedAt: null,
		priceMinor: 390,
		times: [{ n: 1 }, { at: Date.UTC(2026, 0, 2), n: 2 }],
		kind: 'a'
	};
	it('by the schema and by the trusting reader alike', () => {
		expect(shape.parse(wire)).toEqual(inside);
		const { read, write } = trusted(shape);
		expect(read(wire)).toEqual(inside);
		expect(write(read(wire))).toEqual({ ...wire, kind: 'a' });
		expect(
			JSON.stringify(write(read({ times: [], price: 3.9, code: 'x', opened_at: '2026-01-01T00:00:00Z' })))
		).toBe('{"code":"x","opened_at":"2026-01-01T00:00:00Z","price":3.9,"kind":"a"}');
	});
	it.each<[string, z.ZodType, unknown, unknown]>([
		[
			'a record',
			z.record(z.string(), moment),
			{ a: '1970-01-01T00:00:01Z', b: '1970-01-01T00:00:02Z' },
			{ a: 1000, b: 2000 }
		],
		['a tuple', z.tuple([z.string(), money]), ['x', 3.9], ['x', 390]],
		['a tuple of plain items', z.tuple([z.string(), z.number()]), ['x', 3.9], ['x', 3.9]],
		['a union of plain options', z.union([z.string(), z.number()]), 3.9, 3.9],
		['a record of nullable moments', z.record(z.string(), moment.nullable()), { a: null }, { a: null }]
	])('%s is converted like by the schema', (_, sort, written, thought) => {
		const { read, write } = trusted(z.strictObject({ it: sort }));
		expect(sort.parse(written)).toEqual(thought);
		expect(read({ it: written })).toEqual({ it: thought });
		expect(write({ it: thought })).toEqual({ it: written });
	});
	it.each<[string, z.ZodType]>([
		['a union of which an option is converted', z.union([z.string(), moment])],
		[
			'a discriminated union with money',
			z.discriminatedUnion('k', [z.object({ k: z.literal('a'), m: money })])
		],
		['a record with converted keys', z.record(moment as never, z.string())],
		['a tuple with a rest', z.tuple([z.string()], money)],
		['a set', z.set(z.string())],
		['a date', z.date()],
		['a transform', z.string().transform(Number)]
	])('%s is refused when the reader is made, not passed through', (_, sort) => {
		expect(() => trusted(z.strictObject({ it: sort.optional() }))).toThrow();
	});
	it('null, left out and empty are one; what is too many or unknown is refused by its field', () => {
		expect(shape.parse({ ...wire, closed_at: null })).toMatchObject({ closedAt: null });
		expect(shape.parse({ ...wire, closed_at: '2026-01-03T00:00:00Z' })).toMatchObject({
			closedAt: Date.UTC(2026, 0, 3)
		});
		expect(shape.parse({ code: 'x', opened_at: '2026-01-01T00:00:00Z' })).toMatchObject({
			times: [],
			kind: 'a'
		});
		const paths = (value: object) => shape.safeParse(value).error?.issues.map(({ path }) => path.join('.'));
		expect(paths({ ...wire, times: Array.from({ length: 4 }, () => ({ n: 1 })) })).toEqual(['times']);
		expect(paths({ ...wire, times: [{ n: 1.5 }] })).toEqual(['times.0.n']);
		expect(paths({ ...wire, price: 1.234 })).toEqual(['price']);
		expect(shape.safeParse({ ...wire, more: 1 }).success).toBe(false);
	});
	it('fields that the schema does not know stay out of what is read and written', () =>
		expect(trusted(z.strictObject({ at: moment })).read({ at: '1970-01-01T00:00:01Z', odd: 1 })).toEqual({
			at: 1000
		}));
	it('a pipe that is no codec cannot be written back, and says so', () =>
		expect(() => trusted(z.string().transform((text) => text.length))).toThrow(/no codec/));
	it('names are changed, others stay', () =>
		expect(withNames({ a: 1, b: 2 }, { a: 'c' })).toEqual({ c: 1, b: 2 }));
});

describe('numbers as people type them', () => {
	it.each<[string, number | null]>([
		['5', 5],
		['5,2', 5.2],
		['5.2', 5.2],
		['.5', 0.5],
		['5.', 5],
		['-0,4', -0.4],
		['+3', 3],
		['1 200', 1200],
		["1'200,50", 1200.5],
		['', null],
		[' ', null],
		['.', null],
		['-', null],
		['1.2.3', null],
		['1,200.5', null],
		['1e3', null],
		['5 V', null],
		['٣', null]
	])('%j is %s', (typed, value) => expect(readNumber(typed)).toBe(value));
	it('bounds are within', () => {
		expect([readNumberWithin('0', 0, 60), readNumberWithin('60', 0, 60)]).toEqual([0, 60]);
		expect([
			readNumberWithin('-0.1', 0, 60),
			readNumberWithin('60.1', 0, 60),
			readNumberWithin('x', 0, 60)
		]).toEqual([null, null, null]);
	});
	it.each<[string, number | null]>([
		['89', 8900],
		['89,5', 8950],
		['89.50', 8950],
		['1 200', 120_000],
		['89.505', null],
		['-1', null],
		['99999999.99', 9_999_999_999],
		['100000000', null],
		['', null]
	])('%j as money is %s', (typed, minor) => expect(parseAmount(typed, null)).toBe(minor));
});
