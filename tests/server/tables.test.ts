import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';
import { expect, it } from 'vitest';
import { freshDatabase } from './fresh-database';

/** Every column that `database/tables.ts` declares: table.column, with null where it may be. */
function declared(): Map<string, { isNullable: boolean; type: string }> {
	const source = 'src/lib/server/database/tables.ts';
	const file = ts.createSourceFile(source, readFileSync(source, 'utf8'), ts.ScriptTarget.Latest, true);
	const rows = file.statements.find(
		(statement) => ts.isInterfaceDeclaration(statement) && statement.name.text === 'Rows'
	) as ts.InterfaceDeclaration;
	const columns = new Map<string, { isNullable: boolean; type: string }>();
	for (const table of rows.members as ts.NodeArray<ts.PropertySignature>) {
		for (const column of (table.type as ts.TypeLiteralNode).members as ts.NodeArray<ts.PropertySignature>) {
			const parts = (column.type?.getText() ?? '').split(/\s*\|\s*/);
			columns.set(`${table.name.getText()}.${column.name.getText()}`, {
				isNullable: parts.includes('null') || parts.includes("Ticket['outcome']"),
				type: parts.filter((part) => part !== 'null').join(' | ')
			});
		}
	}
	return columns;
}

/** What the driver makes of a column, as `database/config.ts` sets it up. */
function driverType(columnType: string): string {
	if (columnType === 'tinyint(1)') return 'boolean';
	if (/^(bigint|int|smallint|double|float)/.test(columnType)) return 'number';
	if (columnType.startsWith('datetime')) return 'Date';
	return /blob|binary/.test(columnType) ? 'Buffer' : 'string';
}

it('the rows that the program reads and writes are those of the migrated schema, by name, kind and null', async () => {
	const db = await freshDatabase();
	const [columns] = (await db.raw(
		`SELECT table_name AS t, column_name AS c, column_type AS kind, is_nullable AS nullable
		 FROM information_schema.columns
		 WHERE table_schema = DATABASE() AND table_name NOT LIKE 'knex%'`
	)) as [{ t: string; c: string; kind: string; nullable: 'YES' | 'NO' }[]];
	const types = declared();
	expect([...types.keys()].sort()).toEqual(columns.map(({ t, c }) => `${t}.${c}`).sort());
	for (const { t, c, kind, nullable } of columns) {
		const { isNullable, type = '' } = types.get(`${t}.${c}`) ?? {};
		expect(isNullable, `${t}.${c} may be null`).toBe(nullable === 'YES');
		// named types stand for texts: codes, states, JSON
		if (/^(string|number|boolean|Date|Buffer)$/.test(type)) expect(type, `${t}.${c}`).toBe(driverType(kind));
		else expect(driverType(kind), `${t}.${c}`).toBe('string');
	}
	await db.destroy();
});

const TAKE_COLUMNS =
	/^(where|andWhere|orWhere|whereNull|whereNotNull|andWhereNot|orWhereNot|whereNot|whereIn|whereNotIn|orWhereNull|orWhereNotNull|orderBy|groupBy|pluck|select|first|increment|onConflict)$/;

/** Texts that calls of the query builder take for columns, with the aliases that their file gives. */
function namedColumns(source: string): { name: string; aliases: Set<string> }[] {
	const text = readFileSync(source, 'utf8');
	const file = ts.createSourceFile(source, text, ts.ScriptTarget.Latest, true);
	const aliases = new Set([...text.matchAll(/\bas (\w+)\b/gi)].map(([, alias = '']) => alias));
	const found: { name: string; aliases: Set<string> }[] = [];
	const visit = (node: ts.Node): void => {
		if (ts.isCallExpression(node) && ts.isPropertyAccessExpression(node.expression)) {
			const method = node.expression.name.text;
			const takesList = /^(select|first|pluck|groupBy)$/.test(method);
			const given = takesList ? node.arguments : node.arguments.slice(0, 1);
			if (TAKE_COLUMNS.test(method))
				for (const argument of given.flatMap((each) =>
					ts.isArrayLiteralExpression(each) ? [...each.elements] : [each]
				))
					if (ts.isStringLiteral(argument)) found.push({ name: argument.text, aliases });
		}
		ts.forEachChild(node, visit);
	};
	visit(file);
	return found;
}

it('every column that a query names is one of them', () => {
	const types = declared();
	const columns = new Set([...types.keys()].map((key) => key.split('.')[1] ?? ''));
	const tables = new Set([...types.keys()].map((key) => key.split('.')[0] ?? ''));
	const server = path.resolve('src/lib/server');
	const files = readdirSync(server, { recursive: true, encoding: 'utf8' }).filter(
		(name) => name.endsWith('.ts') && !name.includes('migrations/')
	);
	let seen = 0;
	for (const name of files)
		for (const { name: written, aliases } of namedColumns(path.join(server, name))) {
			const [qualified = ''] = written.split(/ as /i);
			const [column = '', table] = qualified.split('.').reverse();
			if (column === '*' || (table === undefined && aliases.has(column))) continue;
			seen++;
			const isKnown = table !== undefined && tables.has(table) ? types.has(qualified) : columns.has(column);
			expect(isKnown, `${name} names ${written}`).toBe(true);
		}
	expect(seen).toBeGreaterThan(400);
});
