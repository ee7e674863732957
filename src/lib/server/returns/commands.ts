import { z } from 'zod';
import { CLAIM_STATES, WATCHED_KINDS } from '$lib/core/catalog/kinds-of-returns';
import { recordOfKind, type CatalogRecordOf } from '$lib/core/catalog/kinds';
import { codeSchema, ticketNumberSchema } from '$lib/core/units/code';
import { formatInstant, type Instant } from '$lib/core/units/instant';
import { catalogNow, recordVersion } from '../catalog/queries';
import { saveCatalogRecord, type SaveAnswer } from '../catalog/commands';
import type { Database } from '../database/connection';
import { asJson } from '../database/json';

const remark = z.string().trim().min(3, 'is too short; say what was found').max(500);

export const clearBody = z.object({
	of: z.enum(WATCHED_KINDS),
	row: codeSchema,
	ticket: ticketNumberSchema,
	reason: remark
});

/** Puts an early warning away, with the reason: what its chart had summed counts no more. */
export async function clearAlarm(
	db: Database,
	actor: string,
	now: Instant,
	{ of: kind, row, ticket, reason }: z.output<typeof clearBody>
): Promise<SaveAnswer> {
	const record = {
		record: 'cleared-alarm',
		of: kind,
		row,
		ticket,
		reason,
		at: formatInstant(now),
		by: actor
	} as const;
	const version = await recordVersion(db, 'cleared-alarm', `${kind} ${row} ${ticket}`);
	return saveCatalogRecord(db, actor, now, record, version);
}

const amount = z
	.string()
	.trim()
	.regex(/^\d{1,7}([.,]\d{1,2})?$/, 'is no amount; write it as 12.50')
	.transform((text) => Number(text.replace(',', '.')));

export const claimBody = z.object({
	ticket: ticketNumberSchema,
	sku: codeSchema,
	amount,
	note: z.string().trim().max(500).optional()
});

/** Asks a supplier for what a failed part cost: one claim a ticket and part. */
export async function makeClaim(
	db: Database,
	actor: string,
	now: Instant,
	{ ticket, sku, amount, note }: z.output<typeof claimBody>
): Promise<SaveAnswer> {
	const row = await db('tickets').where({ number: ticket }).first('record', 'comeback_of');
	if (!row?.comeback_of) {
		return { ok: false, field: 'ticket', message: `is ${ticket}, which comes back from no ticket` };
	}
	const catalog = await catalogNow(db);
	const part = catalog.parts.get(sku);
	if (!part) return { ok: false, field: 'sku', message: `is ${sku}, which is no part of the shop` };
	const lot = await lotOfFirst(db, row.comeback_of, sku);
	const supplier = (await supplierOf(db, lot)) ?? part.supplier;
	const record: CatalogRecordOf<'claim'> = {
		record: 'claim',
		ticket,
		sku,
		...(supplier ? { supplier } : {}),
		...(lot ? { lot } : {}),
		amount,
		at: formatInstant(now),
		state: 'open',
		...(note ? { note } : {}),
		by: actor
	};
	const answer = await saveCatalogRecord(db, actor, now, record, null);
	if (answer.ok || answer.field !== 'code') return answer;
	return {
		ok: false,
		field: 'sku',
		message: `of ${ticket} is claimed already; settle that claim in the list`
	};
}

/** The lot that the first job took the part from, the last of several. */
async function lotOfFirst(db: Database, first: string, sku: string): Promise<string | null> {
	const use = await db('part_uses')
		.join('tickets', 'tickets.id', 'part_uses.ticket_id')
		.where({ number: first, sku })
		.whereNotNull('lot')
		.orderBy('part_uses.n', 'desc')
		.first('lot');
	return use?.lot ?? null;
}

async function supplierOf(db: Database, lot: string | null): Promise<string | undefined> {
	if (lot === null) return undefined;
	const row = await db('catalog').where({ kind: 'lot', code: lot }).first('record');
	return row && recordOfKind('lot', asJson(row.record)).supplier;
}

export const settleBody = z.object({
	ticket: ticketNumberSchema,
	sku: codeSchema,
	version: z.coerce.number().int().min(1),
	state: z.enum(CLAIM_STATES),
	granted: amount.optional().or(z.literal('').transform(() => undefined))
});

/** Notes what a supplier answered; an answer can be corrected. */
export async function settleClaim(
	db: Database,
	actor: string,
	now: Instant,
	{ ticket, sku, version, state, granted }: z.output<typeof settleBody>
): Promise<SaveAnswer> {
	const catalog = await catalogNow(db);
	const claim = catalog.records.claim.get(`${ticket} ${sku}`);
	if (!claim) return { ok: false, field: 'ticket', message: `is ${ticket}, on which nothing is claimed` };
	if (state === 'granted' && granted === undefined) {
		return { ok: false, field: 'granted', message: 'is empty; say what the supplier gave' };
	}
	const { granted: _, settled_at: __, ...claimed } = claim;
	const answered =
		state === 'open'
			? {}
			: { settled_at: formatInstant(now), ...(state === 'granted' ? { granted: granted as number } : {}) };
	return saveCatalogRecord(db, actor, now, { ...claimed, ...answered, state }, version);
}
