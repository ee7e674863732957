import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { parse } from 'svelte/compiler';
import { describe, expect, it } from 'vitest';
import { LANGUAGES } from '$lib/core/words/customer-language';

type Variant = { declarations: string[]; selectors: string[]; match: Record<string, string> };
type Catalogue = Record<string, string | Variant[]>;
const catalogue = (language: string): Catalogue => {
	const { $schema: _, ...messages } = JSON.parse(
		readFileSync(`messages/${language}.json`, 'utf8')
	) as Catalogue;
	return messages;
};
const english = catalogue('en');
const textsOf = (message: Catalogue[string] | undefined): string[] =>
	message === undefined
		? []
		: typeof message === 'string'
			? [message]
			: message.flatMap(({ match }) => Object.values(match));
const placesOf = (text: string) => [...text.matchAll(/\{(\w+)\}/g)].map(([, name]) => name as string).sort();
const filesUnder = (folder: string, ending: RegExp): string[] =>
	readdirSync(folder, { recursive: true, encoding: 'utf8' })
		.filter((name) => ending.test(name) && !name.includes('.test.') && !name.includes('compiled'))
		.map((name) => path.join(folder, name));

/** Where a customer reads: what stands there comes from the catalogues. Pages of the staff, which print what only they read, are not among them. */
const CUSTOMER_PAGES = ['src/routes/mine/[number]/[seal]/+page.svelte'];

describe('catalogues of what customers read', () => {
	it.each(LANGUAGES.filter((language) => language !== 'en'))(
		'%s says each message, and no other',
		(language) => expect(Object.keys(catalogue(language)).sort()).toEqual(Object.keys(english).sort())
	);
	it.each(LANGUAGES.filter((language) => language !== 'en'))(
		'%s fills in the same in each message, and copies none',
		(language) => {
			const messages = catalogue(language);
			const odd = Object.entries(english).filter(([key, message]) => {
				const wanted = placesOf(textsOf(message)[0] ?? '');
				const texts = textsOf(messages[key]);
				return (
					texts.length !== textsOf(message).length ||
					texts.some((text) => text.trim() === '' || placesOf(text).join() !== wanted.join()) ||
					(texts.join() === textsOf(message).join() && /[a-z] [a-z]/.test(texts.join()))
				);
			});
			expect(odd.map(([key]) => key)).toEqual([]);
		}
	);
	it('no message is without use', () => {
		const source = filesUnder('src', /\.(ts|svelte)$/)
			.map((file) => readFileSync(file, 'utf8'))
			.join('\n');
		expect(Object.keys(english).filter((key) => !source.includes(`words.${key}`))).toEqual([]);
	});
	it.each(CUSTOMER_PAGES)('%s has no words of its own', (file) => {
		const found: string[] = [];
		const visit = (node: unknown): void => {
			if (Array.isArray(node)) return node.forEach(visit);
			if (typeof node !== 'object' || node === null) return;
			const { type, data, name, value } = node as Record<string, unknown>;
			if (type === 'Text' && /[a-z]{2}/i.test(String(data))) found.push(String(data).trim());
			if (
				type === 'Attribute' &&
				!['alt', 'title', 'aria-label', 'placeholder', 'label'].includes(String(name))
			)
				return;
			if (type === 'Attribute') return visit(value);
			for (const [key, child] of Object.entries(node)) if (key !== 'css' && key !== 'instance') visit(child);
		};
		visit(parse(readFileSync(file, 'utf8'), { modern: true }).fragment);
		expect(found).toEqual([]);
	});
});
