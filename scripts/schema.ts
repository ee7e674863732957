// Writes docs/exchange.schema.json and the tables of docs/exchange.md: npm run schema
import { readFileSync, writeFileSync } from 'node:fs';
import { exchangeSchemaText, kindsTable, measuredTable } from '$lib/core/exchange/json-schema';

writeFileSync(new URL('../docs/exchange.schema.json', import.meta.url), exchangeSchemaText());
const page = new URL('../docs/exchange.md', import.meta.url);
const tables = { kinds: kindsTable(), measured: measuredTable() };
const text = Object.entries(tables).reduce(
	(text, [name, table]) =>
		text.replace(
			new RegExp(`<!-- ${name} -->[\\s\\S]*?<!-- /${name} -->`),
			() => `<!-- ${name} -->\n\n${table}\n\n<!-- /${name} -->`
		),
	readFileSync(page, 'utf8')
);
writeFileSync(page, text);
