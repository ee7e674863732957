import { z } from 'zod';
import { modelFromWords, type ModelRecordInput } from '$lib/core/catalog/new-model';
import type { Catalog } from '$lib/core/catalog/catalog';
import { customerFields, tidyCustomer } from '$lib/core/tickets/customer';
import { isRefusal, type Refusal } from '$lib/core/tickets/refusal';
import { MATTERS } from '$lib/core/tickets/ticket-entries';
import { openedTicket, type Ticket } from '$lib/core/tickets/ticket-record';
import { codeRecord, codeSchema, ticketNumberSchema } from '$lib/core/units/code';
import { LATEST_INSTANT } from '$lib/core/units/instant';
import { calledFor } from '$lib/core/messages/called-for';
import { enqueue } from '../messages/enqueue';
import { recordAudit } from '../audit/commands';
import { putCatalogRecords } from '../catalog/commands';
import { catalogNow } from '../catalog/queries';
import { inTransaction, type Database } from '../database/connection';
import { advanceCounter, holdCounter } from '../database/counters';
import type { Actor } from './actor';
import { sealPasscode } from './passcodes';
import { customerDigest, putCustomers, soundTicket, ticketColumns } from './rows';
import { isSameForm, markUsed, noteSubmitted, submittedBefore } from './submissions';

export const takeInBody = z.strictObject({
	once: z.uuid(),
	customer: customerFields,
	/** a known model, or words for a new one */
	model: z.union([
		z.strictObject({ code: codeSchema }),
		z.strictObject({
			label: z.string().trim().min(2, 'is too short; write maker and model').max(200),
			connector: codeSchema.nullable()
		})
	]),
	serial: z.string().trim().max(64).optional(),
	reported: z.string().trim().max(4000).optional(),
	condition: z.string().trim().max(4000).optional(),
	accessories: z.string().trim().max(4000).optional(),
	matters: z.enum(MATTERS),
	promisedAt: z.int().min(0).max(LATEST_INSTANT).nullable(),
	/** of keeping it, as it was foretold */
	promisedChance: z.number().min(0).max(1).optional(),
	signs: codeRecord(z.boolean()),
	/** the fault that the customer claims */
	claim: codeSchema.nullable().default(null),
	passcode: z.string().max(100).optional(),
	comebackOf: ticketNumberSchema.nullable()
});
export type TakeIn = z.input<typeof takeInBody>;

export type TakeInAnswer = { ok: true; number: string } | { ok: false; refusal: Refusal };

/** Takes a device in: customer, model where it is new, ticket. One number however often it is sent. */
export async function takeIn(
	db: Database,
	actor: Actor,
	now: number,
	body: z.output<typeof takeInBody>
): Promise<TakeInAnswer> {
	return inTransaction(db, async (trx): Promise<TakeInAnswer> => {
		await holdCounter(trx, 'ticket');
		const earlier = await submittedBefore(trx, body.once);
		if (earlier)
			return isSameForm(earlier, 'take-in')
				? { ok: true, number: earlier.number }
				: { ok: false, refusal: markUsed(earlier) };
		const catalog = await catalogNow(trx);
		const odd = Object.keys(body.signs).find((sign) => !catalog.signs.has(sign));
		if (odd) return refuseTakeIn('signs', `names ${odd}, which the catalog does not hold`);
		if (body.claim !== null && !catalog.faults.has(body.claim)) {
			return refuseTakeIn('claim', `is ${body.claim}, which the catalog does not hold`);
		}
		const model = resolveModel(catalog, body.model);
		if ('field' in model) return { ok: false, refusal: model };
		if (body.comebackOf && !(await trx('tickets').where({ number: body.comebackOf }).first('id'))) {
			return refuseTakeIn('comebackOf', `names ${body.comebackOf}, which is no ticket of this shop`);
		}
		if ('record' in model) await putCatalogRecords(trx, [model]);
		const customer = tidyCustomer(body.customer);
		const customers = await putCustomers(trx, [customer]);
		const serial = await advanceCounter(trx, 'ticket');
		const ticket = newTicket(
			`K-${String(serial).padStart(5, '0')}`,
			model.code,
			customer,
			body,
			now,
			actor.by
		);
		const sound = soundTicket(ticket, catalog);
		if (isRefusal(sound)) return { ok: false, refusal: sound };
		const [id = 0] = await trx('tickets').insert({
			...ticketColumns(sound, customers.get(customerDigest(customer)) ?? null, catalog),
			passcode: body.passcode ? sealPasscode(body.passcode, ticket.number) : null
		});
		await enqueue(trx, { id, ticket: sound }, calledFor(null, sound), { catalog, now });
		await noteSubmitted(trx, body.once, now, { number: ticket.number, form: 'take-in' });
		await recordAudit(trx, {
			at: now,
			actor: actor.name,
			subject: 'ticket',
			key: ticket.number,
			version: 1,
			verb: 'take-in',
			detail: { model: ticket.model, promisedAt: ticket.promisedAt }
		});
		return { ok: true, number: ticket.number };
	});
}

const refuseTakeIn = (field: string, message: string): TakeInAnswer => ({
	ok: false,
	refusal: { field, message }
});

function resolveModel(
	catalog: Catalog,
	model: z.output<typeof takeInBody>['model']
): ModelRecordInput | { code: string } | Refusal {
	if ('code' in model) {
		return catalog.models.has(model.code)
			? { code: model.code }
			: { field: 'model', message: `is ${model.code}, which the catalog does not hold` };
	}
	if (model.connector !== null && !catalog.connectors.has(model.connector)) {
		return { field: 'connector', message: `is ${model.connector}, which the catalog does not hold` };
	}
	return modelFromWords(model.label, model.connector, catalog);
}

function newTicket(
	number: string,
	model: string,
	customer: Ticket['customer'],
	body: z.output<typeof takeInBody>,
	now: number,
	actor: string
): Ticket {
	const { reported, condition, accessories } = body;
	return {
		...openedTicket(number, now, model),
		promisedAt: body.promisedAt,
		...(body.promisedAt !== null && body.promisedChance !== undefined
			? { promisedChance: body.promisedChance }
			: {}),
		serial: body.serial || null,
		customer,
		...(reported ? { reported } : {}),
		...(condition ? { condition } : {}),
		...(accessories ? { accessories } : {}),
		matters: body.matters,
		signs: body.signs,
		opinions: body.claim === null ? [] : [{ from: 'customer', fault: body.claim, at: now, by: actor }],
		comebackOf: body.comebackOf
	};
}
