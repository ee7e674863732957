import { readFileSync } from 'node:fs';
import ts from 'typescript';
import { expect, it } from 'vitest';
import { freshDatabase } from './fresh-database';

/** Every column that `database/tables.ts` declares: table.column, with null where it may be. */
function declared(): Map<string, { isNullable: boolean; type: string }> {
	const path = 'src/lib/server/database/tables.ts';
	const file = ts.createSourceFile(path, readFileSync(path, 'utf8'), ts.ScriptTarget.Latest, true);
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
