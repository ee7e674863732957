import { timingSafeEqual } from 'node:crypto';
import type { Role } from '$lib/core/units/role';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database, type Queryable } from '../database/connection';
import { hashToken, newToken } from './secrets';

export interface ApiToken {
	id: number;
	label: string;
	role: Role;
	createdAt: number;
	revokedAt: number | null;
}

export interface Bearer {
	name: string;
	role: Role;
}

/** Who a bearer token stands for; null where it is unknown or revoked. */
export async function readBearer(db: Queryable, token: string): Promise<Bearer | null> {
	const hash = hashToken(token);
	const fixed = process.env.TAVREK_API_TOKEN;
	if (fixed && timingSafeEqual(Buffer.from(hash), Buffer.from(hashToken(fixed)))) {
		return { name: 'API token of the start', role: 'manager' };
	}
	const row = (await db('api_tokens')
		.where({ token_hash: hash })
		.whereNull('revoked_at')
		.first('label', 'role')) as { label: string; role: Role } | undefined;
	return row ? { name: `API token ${row.label}`, role: row.role } : null;
}

export async function listApiTokens(db: Queryable): Promise<ApiToken[]> {
	const rows = (await db('api_tokens').orderBy('id')) as {
		id: number;
		label: string;
		role: Role;
		created_at: Date;
		revoked_at: Date | null;
	}[];
	return rows.map((row) => ({
		id: row.id,
		label: row.label,
		role: row.role,
		createdAt: row.created_at.getTime(),
		revokedAt: row.revoked_at?.getTime() ?? null
	}));
}

/** Makes a token and returns it this once: the store keeps its hash. */
export async function makeApiToken(
	db: Database,
	actor: string,
	now: number,
	{ label, role }: { label: string; role: Role }
): Promise<string> {
	const token = newToken();
	await inTransaction(db, async (trx) => {
		await trx('api_tokens').insert({
			label,
			role,
			token_hash: hashToken(token),
			created_at: new Date(now)
		});
		await recordAudit(trx, { at: now, actor, subject: 'token', key: label, verb: 'make', detail: { role } });
	});
	return token;
}

export async function revokeApiToken(db: Database, actor: string, now: number, id: number): Promise<void> {
	await inTransaction(db, async (trx) => {
		const changed = await trx('api_tokens')
			.where({ id })
			.whereNull('revoked_at')
			.update({ revoked_at: new Date(now) });
		if (changed === 0) return;
		await recordAudit(trx, {
			at: now,
			actor,
			subject: 'token',
			key: String(id),
			verb: 'revoke',
			detail: {}
		});
	});
}
