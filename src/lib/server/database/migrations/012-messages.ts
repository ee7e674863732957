import type { Knex } from 'knex';

/**
 * The language that a message is written in, so that one whose customer reads another by now is written anew; the warranty that an
 * accepted offer gave, so that a longer one than the shop's is found.
 */
export async function up(db: Knex): Promise<void> {
	await db.raw('ALTER TABLE messages ADD COLUMN IF NOT EXISTS language VARCHAR(3) CHARACTER SET ascii NULL');
	await db.raw('ALTER TABLE tickets ADD COLUMN IF NOT EXISTS offered_warranty SMALLINT UNSIGNED NULL');
	// tickets of the version before say so in their records
	const rows = (await db('tickets')
		.whereRaw("JSON_CONTAINS_PATH(record, 'one', '$.dealings[*].offered[*].warranty_days')")
		.select('id', db.raw("JSON_EXTRACT(record, '$.dealings') AS dealings"))) as {
		id: number;
		dealings: unknown;
	}[];
	for (const { id, dealings } of rows) {
		const all = (typeof dealings === 'string' ? JSON.parse(dealings) : dealings) as Dealing[];
		const at = all.findLastIndex(({ quoted, offered }) => quoted !== undefined || offered !== undefined);
		const answer = all.slice(Math.max(0, at)).findLast(({ accepted }) => accepted !== undefined);
		const days = answer?.accepted ? all[at]?.offered?.[answer.option ?? 0]?.warranty_days : undefined;
		if (days !== undefined) await db('tickets').where({ id }).update({ offered_warranty: days });
	}
}
interface Dealing {
	quoted?: number;
	offered?: { warranty_days?: number }[];
	accepted?: boolean;
	option?: number;
}

export async function down(db: Knex): Promise<void> {
	await db.raw('ALTER TABLE messages DROP COLUMN language');
	await db.raw('ALTER TABLE tickets DROP COLUMN offered_warranty');
}
