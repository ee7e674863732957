// Writes docs/exchange.schema.json and the table of record kinds in docs/exchange.md: npm run schema
import { readFileSync, writeFileSync } from 'node:fs';
import { exchangeSchemaText, kindsTable } from '$lib/core/exchange/json-schema';

writeFileSync(new URL('../docs/exchange.schema.json', import.meta.url), exchangeSchemaText());
const page = new URL('../docs/exchange.md', import.meta.url);
const text = readFileSync(page, 'utf8');
const marked = /<!-- kinds -->[\s\S]*?<!-- \/kinds -->/;
writeFileSync(
	page,
	text.replace(marked, () => `<!-- kinds -->\n\n${kindsTable()}\n\n<!-- /kinds -->`)
);
