import { timingSafeEqual } from 'node:crypto';
import { DAY_MS, MINUTE_MS } from '$lib/core/units/instant';
import type { Role } from '$lib/core/units/role';
import { recordAudit } from '../audit/commands';
import { inTransaction, type Database, type Queryable } from '../database/connection';
import { hashToken, newToken } from './secrets';

export interface ApiToken {
	id: number;
	label: string;
	role: Role;
	/** who answers for it: it ends when they are shut out */
	owner: string | null;
	createdAt: number;
	/** null: it has no end, made before tokens had one */
	expiresAt: number | null;
	usedAt: number | null;
	revokedAt: number | null;
	/** opens nothing any more: revoked, run out, or its owner shut out */
	ended: boolean;
}

/** A token is good for so many days at most; a shorter life is safer. */
export const TOKEN_DAYS = [30, 90, 365] as const;

export interface Bearer {
	name: string;
	role: Role;
}

const SHORTEST_FIXED = 24;

/** A token that whoever starts the shop made up must not be one that can be guessed. Throws at the start. */
export function refuseShortToken(fixed = process.env.TAVREK_API_TOKEN): void {
	if (fixed && fixed.length < SHORTEST_FIXED) {
		throw new Error(
			`TAVREK_API_TOKEN has ${fixed.length} characters; use at least ${SHORTEST_FIXED}, such as openssl rand -base64 24 makes, or leave it out`
		);
	}
}

/** Who a bearer token stands for; null where it is unknown or revoked. */
export async function readBearer(db: Queryable, token: string): Promise<Bearer | null> {
	const hash = hashToken(token);
	const fixed = process.env.TAVREK_API_TOKEN;
	if (fixed && timingSafeEqual(Buffer.from(hash), Buffer.from(hashToken(fixed)))) {
		return { name: 'API token of the start', role: 'manager' };
	}
	const now = Date.now();
	const row = await db('api_tokens')
		.join('users', 'users.id', 'api_tokens.owner_id')
		.where('api_tokens.token_hash', hash)
		.andWhere('users.active', true)
		.whereNull('api_tokens.revoked_at')
		.andWhere((either) =>
			either.whereNull('api_tokens.expires_at').orWhere('api_tokens.expires_at', '>', new Date(now))
		)
		.first('api_tokens.id', 'api_tokens.label', 'api_tokens.role', 'api_tokens.used_at');
	if (!row) return null;
	if (now - (row.used_at?.getTime() ?? 0) > MINUTE_MS) {
		await db('api_tokens')
			.where({ id: row.id })
			.update({ used_at: new Date(now) });
	}
	return { name: `API token ${row.label}`, role: row.role };
}

export async function listApiTokens(db: Queryable, now: number): Promise<ApiToken[]> {
	const rows = await db('api_tokens')
		.leftJoin('users', 'users.id', 'api_tokens.owner_id')
		.orderBy('api_tokens.id')
		.select('api_tokens.*', 'users.name as owner', 'users.active as owner_active');
	return rows.map((row) => ({
		id: row.id,
		label: row.label,
		role: row.role,
		owner: row.owner,
		createdAt: row.created_at.getTime(),
		expiresAt: row.expires_at?.getTime() ?? null,
		usedAt: row.used_at?.getTime() ?? null,
		revokedAt: row.revoked_at?.getTime() ?? null,
		ended:
			row.revoked_at !== null ||
			!row.owner_active ||
			(row.expires_at !== null && row.expires_at.getTime() <= now)
	}));
}

/** Makes a token and returns it this once: the store keeps its hash. */
export async function makeApiToken(
	db: Database,
	owner: { id: number; name: string },
	now: number,
	{ label, role, days }: { label: string; role: Role; days: number }
): Promise<string> {
	const token = newToken();
	await inTransaction(db, async (trx) => {
		await trx('api_tokens').insert({
			label,
			role,
			token_hash: hashToken(token),
			owner_id: owner.id,
			created_at: new Date(now),
			expires_at: new Date(now + days * DAY_MS)
		});
		await recordAudit(trx, {
			at: now,
			actor: owner.name,
			subject: 'token',
			key: label,
			verb: 'make',
			detail: { role, days }
		});
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
