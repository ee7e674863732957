import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isPlainJson, shownValue, unsoundIn, unsoundText } from './sound-value';

describe('sound values', () => {
	it.each([
		['a lone high surrogate', '\ud800', /half a character/],
		['a lone low surrogate in a word', 'a\udc00b', /half a character/],
		['NUL', 'a\u0000', /U\+0000/],
		['escape', '\u001b[2J', /U\+001B/],
		['delete', '\u007f', /U\+007F/]
	])('%s is refused', (_, text, message) => expect(unsoundText(text)).toMatch(message));
	it.each(['', 'Müller', '東京', '😀', 'tab\there', 'two\nlines\r\n', '\u00a0'])('%j is sound', (text) =>
		expect(unsoundText(text)).toBeNull()
	);
	it('says where it is, in keys too', () => {
		expect(unsoundIn({ notes: [{ text: 'x\u0000' }] })).toMatchObject({ path: 'notes.0.text' });
		expect(unsoundIn({ signs: { '\ud800': true } })).toMatchObject({ path: 'signs' });
		expect(unsoundIn(JSON.parse('{"signs":{"__proto__":true}}'))).toMatchObject({ path: 'signs' });
		expect(unsoundIn({ a: 1, b: [null, true, 'c'] })).toBeNull();
	});
	it('just under the deepest nesting passes, at it and far over it does not, without recursion', () => {
		const nested = (depth: number) => {
			let value: unknown = 'x';
			for (let i = 0; i < depth; i++) value = [value];
			return value;
		};
		expect(unsoundIn(nested(30))).toBeNull();
		expect(unsoundIn(nested(31))).toMatchObject({ message: expect.stringContaining('deeper than 30') });
		expect(unsoundIn(nested(200_000))).not.toBeNull();
	});
	it('any JSON value is looked at without falling over, and a message stays short', () =>
		fc.assert(
			fc.property(fc.anything(), (value) => {
				unsoundIn(value);
				expect(shownValue(JSON.parse(JSON.stringify(value) ?? 'null')).length).toBeLessThanOrEqual(80);
			})
		));
});

describe('plain JSON', () => {
	it('holds nothing unsound, whatever it is', () => {
		const odd = fc.constantFrom(
			'\u0000',
			'\u001f',
			'\u007f',
			'\ud800',
			'\udfff',
			'😀',
			'\b',
			'\f',
			'__proto__',
			'\\',
			'"',
			'\n',
			'é'
		);
		const text = fc
			.array(fc.oneof(fc.string({ maxLength: 4 }), odd), { maxLength: 4 })
			.map((parts) => parts.join(''));
		const value = fc.letrec((tie) => ({
			value: fc.oneof(
				{ maxDepth: 4 },
				text,
				fc.integer(),
				fc.array(tie('value'), { maxLength: 3 }),
				fc.dictionary(text, tie('value'), { maxKeys: 3 })
			)
		})).value;
		let plain = 0;
		fc.assert(
			fc.property(value, (value) => {
				const json = JSON.stringify(value);
				if (!isPlainJson(json)) return;
				plain++;
				expect(unsoundIn(JSON.parse(json))).toBeNull();
			}),
			{ numRuns: 2000 }
		);
		expect(plain).toBeGreaterThan(200);
	});
	it.each<[string, boolean]>([
		['{"a":"b\\n\\t\\"\\\\"}', true],
		['{"a":"\\u0041"}', false],
		['{"a":"\\b"}', false],
		['{"__proto__":1}', false],
		['"é"', true],
		['"😀"', false],
		['"\u007f"', false],
		['"[[[{{{"', true],
		[`${'['.repeat(30)}${']'.repeat(30)}`, true],
		[`${'['.repeat(31)}${']'.repeat(31)}`, false],
		[`[${'{},'.repeat(99)}{}]`, true]
	])('%j is plain: %s', (text, plain) => expect(isPlainJson(text)).toBe(plain));
});
