import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { FIELD_WORDS, refusalWords } from './refusal-words';

const sources = (folder: string): string[] =>
	readdirSync(folder, { recursive: true, encoding: 'utf8' })
		.filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'))
		.map((name) => readFileSync(path.join(folder, name), 'utf8'));

describe('a refusal as a person reads it', () => {
	it.each([
		[
			'gates',
			'not passed since the last repair: Charge',
			'Final checks: not passed since the last repair: Charge'
		],
		['readings.0.value', 'is missing', 'Readings: is missing'],
		['ticket', 'K-1 is closed; reopen it to change it', 'K-1 is closed; reopen it to change it'],
		['ticket', 'cannot be taken', 'Cannot be taken'],
		['unitCostMinor', 'is 3.001', 'Unit cost: is 3.001'],
		['some_field', 'is odd', 'Some field: is odd']
	])('%s: %s', (field, message, words) => expect(refusalWords({ field, message })).toBe(words));

	it('every field that a change of a ticket is refused for has its words', () => {
		const fields = new Set(
			[...sources('src/lib/core/tickets'), ...sources('src/lib/server/tickets')].flatMap((text) =>
				[...text.matchAll(/refuse\(\s*'([A-Za-z_]+)'/g)].map(([, field]) => field as string)
			)
		);
		expect(fields.size).toBeGreaterThan(25);
		expect([...fields].filter((field) => field !== 'ticket' && !(field in FIELD_WORDS))).toEqual([]);
	});
});
