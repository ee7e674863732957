import { z } from 'zod';
import { recordSchemas } from './read-lines';

/** The records of the exchange format as one JSON Schema (2020-12), as text for docs/exchange.schema.json. */
export function exchangeSchemaText(): string {
	const schema = {
		$schema: 'https://json-schema.org/draft/2020-12/schema',
		title: 'A line of the exchange format, version 1',
		oneOf: Object.keys(recordSchemas).map((kind) => ({ $ref: `#/$defs/${kind}` })),
		$defs: Object.fromEntries(
			Object.entries(recordSchemas).map(([kind, record]) => {
				const { $schema: _, ...rest } = z.toJSONSchema(record, { io: 'input', unrepresentable: 'any' });
				return [kind, rest];
			})
		)
	};
	return `${JSON.stringify(schema, null, '\t')}\n`;
}
