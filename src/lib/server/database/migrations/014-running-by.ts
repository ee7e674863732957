import type { Knex } from 'knex';
import { asJson } from '../json';

/** Whose timers run on a ticket, so that a start elsewhere is found without reading every open ticket. */
export async function up(db: Knex): Promise<void> {
	await db.raw(
		'ALTER TABLE tickets ADD COLUMN IF NOT EXISTS running_by VARCHAR(1400) CHARACTER SET ascii COLLATE ascii_bin NULL, ' +
			'ADD INDEX IF NOT EXISTS tickets_running_by (running_by)'
	);
	// tickets of the version before say so in their records
	const rows = (await db('tickets')
		.whereRaw("JSON_CONTAINS_PATH(record, 'one', '$.running')")
		.select('id', db.raw("JSON_EXTRACT(record, '$.running') AS running"))) as {
		id: number;
		running: unknown;
	}[];
	for (const { id, running } of rows) {
		const technicians = (asJson(running) as { technician: string }[]).map(({ technician }) => technician);
		if (technicians.length === 0) continue;
		await db('tickets')
			.where({ id })
			.update({ running_by: ` ${technicians.join(' ')} ` });
	}
}

export async function down(db: Knex): Promise<void> {
	await db.raw('ALTER TABLE tickets DROP INDEX tickets_running_by, DROP COLUMN running_by');
}
