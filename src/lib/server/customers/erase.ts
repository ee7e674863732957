import type { Knex } from 'knex';
import { blotted, type Who } from '$lib/core/tickets/blot';
import type { Instant } from '$lib/core/units/instant';
import { blotTrail } from '../audit/commands';
import { inTransaction, type Database, type Queryable } from '../database/connection';
import { asJson } from '../database/json';
import { forgetLearnt } from '../memory/kept-learning';
import { dropPhoto } from '../photos/store';
import { forgetShown } from '../shown/shown';
import { uploadsOf } from '../tickets/orphan-photos';
import { customerDigest } from '../tickets/rows';
import { lockCustomers, noted, refuse, touchTickets, type CustomerAnswer, type Held } from './commands';

/** Fields of a ticket's head that say who somebody is; their corrections are emptied. */
const SAYS_WHO = /^(customer|kind of customer|telephone|mail)$/;

/**
 * Erases what says who a customer is, on their request or after the time that the shop keeps: name, telephone, mail, signatures, pictures,
 * texts that went out, and what others wrote of them by name, in the trail too. Jobs, measurements and sums of the books stay, of nobody.
 */
export async function eraseCustomer(
	db: Database,
	actor: string,
	now: Instant,
	id: number
): Promise<CustomerAnswer> {
	let pictures: string[] = [];
	const answer = await inTransaction(db, async (trx): Promise<CustomerAnswer> => {
		const [customer] = await lockCustomers(trx, [id]);
		if (!customer) return refuse('id', 'is no customer any more; go back to the list');
		const open = await trx('tickets').where({ customer_id: id }).whereNull('closed_at').first('number');
		if (open) return refuse('id', `has ${open.number} open; close it and hand the device back first`);
		const rows = await trx('tickets').where({ customer_id: id }).forUpdate().select('id', 'number', 'record');
		const tickets = rows.map(({ record, ...row }) => ({
			...row,
			record: storedRecord(record)
		}));
		const identity = whoIs(
			customer,
			tickets.map(({ record }) => record)
		);
		for (const ticket of tickets) {
			const record = blotted(withoutWho(ticket.record), identity);
			await trx('tickets')
				.where({ id: ticket.id })
				.update({ record: Buffer.from(JSON.stringify(record)), passcode: null });
			await blotTrail(trx, 'ticket', ticket.number, (detail) => blotted(withoutCustomer(detail), identity));
		}
		// no link to their devices' pages opens anything any more
		await touchTickets(trx, id, { page_ended: 1 });
		await emptyMessages(trx, id);
		await forgetShown(trx);
		await forgetLearnt(trx);
		const name = `Erased ${id}`;
		await trx('customers')
			.where({ id })
			.update({
				name,
				kind: 'private',
				phone: null,
				email: null,
				language: null,
				hears_by: 'none',
				digest: customerDigest({ name, kind: 'private' }),
				erased_at: new Date(now)
			});
		await noted(trx, actor, now, id, 'erase', { tickets: rows.length });
		// those too that were sent for a ticket and that no change ever named
		const sent = await uploadsOf(
			trx,
			tickets.map((ticket) => ticket.id)
		);
		pictures = [...new Set([...tickets.flatMap(({ record }) => picturesOf(record)), ...sent])];
		return { ok: true };
	});
	// files last: what is gone from the disk does not come back with a transaction that failed
	if (answer.ok && pictures.length > 0) {
		const elsewhere = await shownIn(db, pictures);
		for (const picture of pictures)
			if (!elsewhere.some((record) => record.includes(picture))) await dropPhoto(picture);
	}
	return answer;
}

async function emptyMessages(trx: Knex.Transaction, id: number): Promise<void> {
	const theirs = () =>
		trx('messages').whereIn('ticket_id', trx('tickets').where({ customer_id: id }).select('id'));
	// what the stand-in of the demo shop took of them is theirs too
	const marks = (await theirs().pluck('once')) as string[];
	await trx('caught_messages')
		.whereIn('message_id', [...marks, ...marks.map((mark) => `<${mark}@tavrek>`)])
		.delete();
	await theirs().update({ recipient: '', subject: null, body: '', problem: null });
	await theirs()
		.whereIn('state', ['waiting', 'failed', 'unsure'])
		.update({ state: 'dropped', next_at: null });
}

const storedRecord = (record: unknown) =>
	asJson(Buffer.isBuffer(record) ? record.toString('utf8') : record) as Stored;

interface Stored {
	dealings?: { signature?: string }[];
	corrections?: { field: string; from: string | null; to: string | null }[];
	photos?: { photo: string }[];
	struck?: { list: string; entry?: { photo?: string } }[];
	[field: string]: unknown;
}

/** Names, telephones and addresses of a customer, as they stand and as they were written before. */
function whoIs({ name, phone, email }: Held, records: readonly Stored[]): Who {
	const earlierValues = (field: string) =>
		records
			.flatMap(({ corrections = [] }) => corrections.filter((correction) => correction.field === field))
			.flatMap(({ from, to }) => [from ?? '', to ?? '']);
	const all = (now: string | null, field: string) =>
		[...new Set([now ?? '', ...earlierValues(field)])].filter((value) => value !== '');
	return { names: all(name, 'customer'), phones: all(phone, 'telephone'), emails: all(email, 'mail') };
}

function withoutWho({ photos: _, ...record }: Stored): Stored {
	return {
		...record,
		...(record.dealings ? { dealings: record.dealings.map(({ signature: __, ...dealing }) => dealing) } : {}),
		...(record.corrections
			? {
					corrections: record.corrections.map((correction) =>
						SAYS_WHO.test(correction.field) ? { ...correction, from: null, to: null } : correction
					)
				}
			: {}),
		...(record.struck ? { struck: record.struck.filter(({ list }) => list !== 'photos') } : {})
	};
}

/** A change of the ticket's customer says all of them. */
const withoutCustomer = ({ customer: _, ...detail }: Record<string, unknown>) => detail;

const picturesOf = ({ photos = [], struck = [] }: Stored): string[] => [
	...photos.map(({ photo }) => photo),
	...struck.flatMap(({ entry }) => entry?.photo ?? [])
];

/** Records of the tickets that show some of the pictures, looked through once: the same picture of two tickets is one file. */
const shownIn = async (db: Queryable, pictures: readonly string[]): Promise<string[]> => {
	const records = await db('tickets')
		.where((either) => pictures.forEach((picture) => either.orWhere('record', 'like', `%"${picture}"%`)))
		.pluck('record');
	return records.map((record) => JSON.stringify(storedRecord(record)));
};
