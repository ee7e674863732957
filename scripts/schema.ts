// Writes docs/exchange.schema.json: npm run schema
import { writeFileSync } from 'node:fs';
import { exchangeSchemaText } from '$lib/core/exchange/json-schema';

writeFileSync(new URL('../docs/exchange.schema.json', import.meta.url), exchangeSchemaText());
