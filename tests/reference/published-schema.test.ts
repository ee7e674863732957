import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { exchangeSchemaText, kindsTable, measuredTable } from '$lib/core/exchange/json-schema';
import { RECORD_NAMES } from '$lib/core/exchange/record-kinds';

const doc = (name: string) => readFileSync(new URL(`../../docs/${name}`, import.meta.url), 'utf8');

it('docs/exchange.schema.json is what the schemas say; npm run schema writes it', () => {
	expect(doc('exchange.schema.json')).toBe(exchangeSchemaText());
});
it('the tables of docs/exchange.md are what the program says; npm run schema writes them', () => {
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
	const tableOf = (name: string) =>
		doc('exchange.md').split(`<!-- ${name} -->`)[1]?.split(`<!-- /${name} -->`)[0] ?? '';
	const written = tableOf('kinds');
	expect(plain(written)).toEqual(plain(kindsTable()));
	expect(plain(written)).toHaveLength(RECORD_NAMES.length);
	expect(plain(tableOf('measured'))).toEqual(plain(measuredTable()));
});
