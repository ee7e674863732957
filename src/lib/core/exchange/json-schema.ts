import { MEASURED_QUESTIONS } from '../evidence/measurements';
import { z } from 'zod';
import { RECORD_NAMES, recordKind, type RecordKind } from './record-kinds';

/** A record as JSON Schema, as it comes in. */
export function schemaOfKind(kind: RecordKind): Record<string, unknown> {
	const { $schema: _, ...rest } = z.toJSONSchema(recordKind(kind).schema, {
		io: 'input',
		unrepresentable: 'any'
	});
	return rest;
}

/** The records of the exchange format as one JSON Schema (2020-12), as text for docs/exchange.schema.json. */
export function exchangeSchemaText(): string {
	const schema = {
		$schema: 'https://json-schema.org/draft/2020-12/schema',
		title: 'A line of the exchange format, version 1',
		oneOf: RECORD_NAMES.map((kind) => ({ $ref: `#/$defs/${kind}` })),
		$defs: Object.fromEntries(RECORD_NAMES.map((kind) => [kind, schemaOfKind(kind)]))
	};
	return `${JSON.stringify(schema, null, '\t')}\n`;
}

interface Node {
	properties?: Record<string, Node>;
	required?: string[];
	items?: Node;
	prefixItems?: Node[];
	anyOf?: Node[];
	enum?: unknown[];
}

/** A field's shape in few words: the fields of an object, what a list holds, the words of a choice. */
function shapeWords(node: Node): string {
	if (node.enum) return node.enum.map((word) => `\`${String(word)}\``).join(', ');
	if (node.properties) return `{${fieldNames(node).join(', ')}}`;
	if (node.items) return `[${shapeWords(node.items)}]`;
	return '';
}

const fieldNames = ({ properties = {}, required = [] }: Node) =>
	Object.keys(properties).map((name) => (required.includes(name) ? name : `${name}?`));

/** The record kinds as the table of docs/exchange.md; the ticket has a chapter of its own. */
export function kindsTable(): string {
	const rows = RECORD_NAMES.filter((kind) => kind !== 'ticket').map((kind) => {
		const schema = schemaOfKind(kind) as Node;
		const fields = Object.entries(schema.properties ?? {})
			.filter(([name]) => name !== 'record')
			.map(([name, node]) => {
				const shape = shapeWords(node);
				const optional = schema.required?.includes(name) ? '' : '?';
				return `\`${name}${optional}\`${shape === '' || shape === '[]' ? '' : `: ${shape}`}`;
			});
		return `| \`${kind}\` | ${fields.join(', ')} | ${recordKind(kind).about} |`;
	});
	return ['| record | fields | what it is |', '| --- | --- | --- |', ...rows].join('\n');
}

/** The questions that measurements answer, as the table of docs/exchange.md. */
export function measuredTable(): string {
	const rows = MEASURED_QUESTIONS.map(
		({ question, answers }) => `| \`${question}\` | ${answers.map((answer) => `\`${answer}\``).join(', ')} |`
	);
	return ['| `measured` | its answers |', '| --- | --- |', ...rows].join('\n');
}
