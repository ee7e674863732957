import { z } from 'zod';
import { formatInstant, instantTextSchema, parseInstant, type Instant } from './instant';
import { amountSchema, fromMinor, signedAmountSchema, toMinor, type Minor } from './money';

/**
 * Shapes that read and write: one schema says how a record stands in the exchange format, how the program thinks of it, and
 * how the one becomes the other. Types are drawn from it.
 */

/** RFC 3339 on the wire, milliseconds in the program. */
export const moment = z.codec(instantTextSchema, z.custom<Instant>(), {
	decode: parseInstant,
	encode: formatInstant
});

/** A decimal amount on the wire, hundredths in the program. */
export const money = z.codec(amountSchema, z.custom<Minor>(), { decode: toMinor, encode: fromMinor });

/** The same, or below nothing. */
export const signedMoney = z.codec(signedAmountSchema, z.custom<Minor>(), {
	decode: toMinor,
	encode: fromMinor
});

/** Left out or null on the wire, null in the program; left out again. */
export const orNull = <Item extends z.ZodType>(item: Item) =>
	z.codec(item.nullish(), z.custom<z.output<Item> | null>(), {
		decode: (value) => (value ?? null) as z.output<Item> | null,
		encode: (value) => (value ?? undefined) as z.output<Item> | undefined
	});

/** A list that is left out of the record where it is empty. */
export const listOf = <Item extends z.ZodType>(item: Item, maxLength: number) =>
	z.codec(z.array(item).max(maxLength).optional(), z.custom<z.output<Item>[]>(), {
		decode: (items) => (items ?? []) as z.output<Item>[],
		encode: (items) => (items.length === 0 ? undefined : items) as z.output<Item>[] | undefined
	});

/** The field that `listOf` makes. */
export type ListField<Item extends z.ZodType> = z.ZodCodec<
	z.ZodOptional<z.ZodArray<Item>>,
	z.ZodCustom<z.output<Item>[], z.output<Item>[]>
>;

export type Renamed<Value, Names> = {
	[
		Key in keyof Value as Key extends keyof Names ? (Names[Key] extends string ? Names[Key] : Key) : Key
	]: Value[Key];
};

/** A record whose fields have other names in the program, where `opened_at` is a text and `openedAt` a number. */
export function renamed<Shape extends z.ZodType, const Names extends Readonly<Record<string, string>>>(
	shape: Shape,
	names: Names
) {
	const back = Object.fromEntries(Object.entries(names).map(([wire, name]) => [name, wire]));
	type Inside = Renamed<z.output<Shape>, Names>;
	const codec = z.codec(shape, z.custom<Inside>(), {
		decode: (value) => withNames(value as object, names) as Inside,
		encode: (value) => withNames(value as object, back) as never
	});
	RENAMED.set(codec, names);
	return codec;
}

/** The names that a shape's fields have in the program, for readers that go through it in one pass. */
const RENAMED = new WeakMap<z.ZodType, Readonly<Record<string, string>>>();

/** @example withNames({ hourly_cost: 3200, at: 1 }, { hourly_cost: 'hourlyCostMinor' }) // { hourlyCostMinor: 3200, at: 1 } */
export function withNames(value: object, names: Readonly<Record<string, string>>): Record<string, unknown> {
	const named: Record<string, unknown> = {};
	for (const [key, item] of Object.entries(value)) named[names[key] ?? key] = item;
	return named;
}

type Convert = (value: unknown) => unknown;
/** Ways of one schema; null where a value stays as it is. */
interface Ways {
	decode: Convert | null;
	encode: Convert | null;
}
/** What the reader needs of a schema's definition, of whatever sort it is. */
interface Definition {
	type: string;
	in?: z.ZodType;
	transform?: Convert;
	reverseTransform?: Convert;
	innerType?: z.ZodType;
	defaultValue?: unknown;
	element?: z.ZodType;
	keyType?: z.ZodType;
	valueType?: z.ZodType;
	items?: z.ZodType[];
	rest?: z.ZodType | null;
	options?: z.ZodType[];
	shape?: Record<string, z.ZodType>;
	catchall?: z.ZodType;
}

const chain = (first: Convert | null, second: Convert): Convert =>
	first === null ? second : (value) => second(first(value));

/**
 * Fields in the schema's order; those without a value are left out, fields that the schema does not know as well.
 * @param names what fields are called in the program where that is not as on the wire
 */
function convertFields(
	shape: Record<string, z.ZodType>,
	names: Readonly<Record<string, string>>,
	way: keyof Ways
): Convert {
	const fields = Object.entries(shape).map(([wire, field]) => {
		const inside = names[wire] ?? wire;
		const [from, to] = way === 'decode' ? [wire, inside] : [inside, wire];
		return { from, to, convert: waysOf(field)[way] };
	});
	return (value) => {
		const record = value as Record<string, unknown>;
		const converted: Record<string, unknown> = {};
		for (const { from, to, convert } of fields) {
			const item = convert === null ? record[from] : convert(record[from]);
			if (item !== undefined) converted[to] = item;
		}
		return converted;
	};
}

function objectWays(schema: z.ZodType, names: Readonly<Record<string, string>>): Ways {
	const { shape } = schema.def as unknown as { shape: Record<string, z.ZodType> };
	return { decode: convertFields(shape, names, 'decode'), encode: convertFields(shape, names, 'encode') };
}

/** Of a record whose keys stay as they are. */
function recordWays(valueType: z.ZodType): Ways {
	const { decode, encode } = waysOf(valueType);
	const itemwise = (convert: Convert | null): Convert | null =>
		convert &&
		((value) =>
			Object.fromEntries(Object.entries(value as object).map(([key, item]) => [key, convert(item)])));
	return { decode: itemwise(decode), encode: itemwise(encode) };
}

function waysOf(schema: z.ZodType): Ways {
	const definition = schema.def as unknown as Definition;
	switch (definition.type) {
		case 'pipe': {
			const names = RENAMED.get(schema);
			const { shape } = definition.in?.def as unknown as Definition;
			if (names && shape) return objectWays(definition.in as z.ZodType, names);
			const inner = waysOf(definition.in as z.ZodType);
			const { transform, reverseTransform } = definition;
			if (!transform || !reverseTransform) throw new Error('a pipe that is no codec cannot be written back');
			return {
				decode: chain(inner.decode, (value) => transform(value)),
				encode: chain((value) => reverseTransform(value), inner.encode ?? ((value) => value))
			};
		}
		case 'optional':
		case 'nullable': {
			const { decode, encode } = waysOf(definition.innerType as z.ZodType);
			const optional = (convert: Convert | null): Convert | null =>
				convert && ((value) => (value == null ? value : convert(value)));
			return { decode: optional(decode), encode: optional(encode) };
		}
		case 'default': {
			const { decode, encode } = waysOf(definition.innerType as z.ZodType);
			const inner = decode ?? ((value) => value);
			return {
				decode: (value) => (value === undefined ? definition.defaultValue : inner(value)),
				encode
			};
		}
		case 'array': {
			const { decode, encode } = waysOf(definition.element as z.ZodType);
			const itemwise = (convert: Convert | null): Convert | null =>
				convert && ((value) => (value as unknown[]).map(convert));
			return { decode: itemwise(decode), encode: itemwise(encode) };
		}
		case 'object': {
			const { catchall } = definition;
			const fields = Object.keys(definition.shape ?? {}).length;
			// a record by codes: fields of any name, all of one sort
			if (fields === 0 && catchall) return recordWays(catchall);
			return objectWays(schema, {});
		}
		case 'record': {
			unconverted(definition.keyType, 'the keys of a record');
			return recordWays(definition.valueType as z.ZodType);
		}
		case 'tuple': {
			const items = (definition.items ?? []).map(waysOf);
			if (definition.rest) throw new Error('a tuple with a rest is not read without checking: use an array');
			const converterFor = (way: keyof Ways): Convert | null =>
				items.every((ways) => ways[way] === null)
					? null
					: (value) =>
							(value as unknown[]).map((item, i) => {
								const convert = items[i]?.[way];
								return convert ? convert(item) : item;
							});
			return { decode: converterFor('decode'), encode: converterFor('encode') };
		}
		case 'union': {
			// which of them it is would have to be checked
			for (const option of definition.options ?? []) unconverted(option, 'an option of a union');
			return AS_IT_IS;
		}
		default: {
			if (PLAIN.has(definition.type)) return AS_IT_IS;
			throw new Error(
				`a schema of type ${definition.type} is not read without checking: waysOf has no case for it`
			);
		}
	}
}

const AS_IT_IS: Ways = { decode: null, encode: null };
/** Sorts of schema whose values stand in the record as the program thinks of them. */
const PLAIN: ReadonlySet<string> = new Set([
	'string',
	'number',
	'int',
	'boolean',
	'literal',
	'enum',
	'null',
	'undefined',
	'unknown'
]);

function unconverted(schema: z.ZodType | undefined, place: string): void {
	const { decode, encode } = schema ? waysOf(schema) : AS_IT_IS;
	if (decode || encode) throw new Error(`${place} cannot be converted without checking`);
}

/**
 * Reader and writer of what was checked when it was stored: converts as the schema does, checks nothing, and writes fields
 * in the schema's order.
 * @throws where the schema holds a sort that cannot be converted without checking: at once, not at the first record
 * @example trusted(z.strictObject({ at: moment })).read({ at: '1970-01-01T00:00:01Z' }) // { at: 1000 }
 */
export function trusted<Schema extends z.ZodType>(
	schema: Schema
): {
	read: (record: unknown) => z.output<Schema>;
	write: (value: z.output<Schema>) => z.input<Schema> & object;
} {
	const { decode, encode } = waysOf(schema);
	const identity: Convert = (value) => value;
	return {
		read: (decode ?? identity) as (record: unknown) => z.output<Schema>,
		write: (encode ?? identity) as (value: z.output<Schema>) => z.input<Schema> & object
	};
}
