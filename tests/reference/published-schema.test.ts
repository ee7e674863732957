import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { exchangeSchemaText, kindsTable } from '$lib/core/exchange/json-schema';
import { RECORD_NAMES } from '$lib/core/exchange/record-kinds';

const doc = (name: string) => readFileSync(new URL(`../../docs/${name}`, import.meta.url), 'utf8');

it('docs/exchange.schema.json is what the schemas say; npm run schema writes it', () => {
	expect(doc('exchange.schema.json')).toBe(exchangeSchemaText());
});
it('the table of docs/exchange.md is what the registry says; npm run schema writes it', () => {
	// the formatter pads the cells
	const plain = (table: string) =>
		table
			.split('\n')
			.filter((line) => line.startsWith('|') && !line.startsWith('| -'))
			.map((line) =>
				line
					.split('|')
					.map((cell) => cell.trim().replaceAll('\\', ''))
					.join('|')
			);
	const written = doc('exchange.md').split('<!-- kinds -->')[1]?.split('<!-- /kinds -->')[0] ?? '';
	expect(plain(written)).toEqual(plain(kindsTable()));
	expect(plain(written)).toHaveLength(RECORD_NAMES.length);
});
