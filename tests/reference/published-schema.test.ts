import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { exchangeSchemaText } from '$lib/core/exchange/json-schema';

it('docs/exchange.schema.json is what the schemas say; npm run schema writes it', () => {
	const file = new URL('../../docs/exchange.schema.json', import.meta.url);
	expect(readFileSync(file, 'utf8')).toBe(exchangeSchemaText());
});
