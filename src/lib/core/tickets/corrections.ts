import type { Catalog } from '../catalog/catalog';
import { z } from 'zod';
import { codeSchema } from '../units/code';
import { EARLIEST_INSTANT, formatInstant, LATEST_INSTANT } from '../units/instant';
import { customerFields, tidyCustomer } from './customer';
import { refuse, type Changed, type ChangeStamp, type Refusal } from './refusal';
import type { Correction, Ticket } from './ticket-record';
import { pointOf, pointPlace } from '../units/probed-place';
import { PORT_PLACES } from '../units/seen-codes';
import { MATTERS, text } from './ticket-entries';

/** What a correction may say; what it leaves out stays. */
export const HEAD_FIELDS = {
	customer: customerFields.optional(),
	model: codeSchema.optional(),
	serial: z.string().trim().max(64).optional(),
	reported: text.trim().optional(),
	condition: text.trim().optional(),
	accessories: text.trim().optional(),
	matters: z.enum(MATTERS).optional(),
	/** null: what the model is worth counts */
	worthMinor: z.int().min(0).max(9_999_999_999).nullable().optional(),
	year: z.int().min(1950).max(2200).nullable().optional(),
	promisedAt: z.int().min(EARLIEST_INSTANT).max(LATEST_INSTANT).nullable().optional()
};
export type HeadCorrection = z.output<z.ZodObject<typeof HEAD_FIELDS>>;

/**
 * Corrects what was written when the device was taken in. Every field that changes leaves what it said before, what it
 * says now, when and by whom.
 */
export function correct(
	ticket: Ticket,
	change: HeadCorrection,
	stamp: ChangeStamp,
	catalog: Catalog
): Changed {
	const head = headOf(ticket, change);
	if (head.model !== ticket.model) {
		const misfit = misfitOf(ticket, head.model, catalog);
		if (misfit) return misfit;
	}
	const corrected = { ...ticket, ...head };
	const [headBefore, correctedHead] = [headWords(ticket, catalog), headWords(corrected, catalog)];
	const corrections = Object.keys(correctedHead).flatMap((field): Correction[] => {
		const [from, to] = [headBefore[field] ?? null, correctedHead[field] ?? null];
		return from === to ? [] : [{ field, from, to, ...stamp }];
	});
	if (corrections.length === 0) return refuse('ticket', 'this is already recorded; nothing was changed');
	return { ...corrected, corrections: [...ticket.corrections, ...corrections] };
}

/** The head with what the change says of it; words that were emptied are left out. */
function headOf(ticket: Ticket, change: HeadCorrection) {
	const { customer, model, serial, matters, promisedAt, worthMinor, year } = change;
	const words = (text: string | undefined, current: string | undefined) => (text ?? current) || undefined;
	return {
		model: model ?? ticket.model,
		serial: serial === undefined ? ticket.serial : serial || null,
		customer: customer === undefined ? ticket.customer : tidyCustomer(customer),
		promisedAt: promisedAt === undefined ? ticket.promisedAt : promisedAt,
		...present('matters', matters ?? ticket.matters),
		worthMinor: (worthMinor === undefined ? ticket.worthMinor : worthMinor) ?? undefined,
		year: (year === undefined ? ticket.year : year) ?? undefined,
		reported: words(change.reported, ticket.reported),
		condition: words(change.condition, ticket.condition),
		accessories: words(change.accessories, ticket.accessories)
	};
}

const present = <Key extends string, Value>(key: Key, value: Value | undefined) =>
	(value === undefined ? {} : { [key]: value }) as Partial<Record<Key, Value>>;

/** The head in words, field by field; null where it says nothing. */
function headWords(ticket: Ticket, catalog: Catalog): Record<string, string | null> {
	const { customer } = ticket;
	return {
		customer: customer?.name ?? null,
		'kind of customer': customer?.kind ?? null,
		telephone: customer?.phone ?? null,
		mail: customer?.email ?? null,
		model: catalog.models.get(ticket.model)?.label ?? ticket.model,
		serial: ticket.serial,
		promise: ticket.promisedAt === null ? null : formatInstant(ticket.promisedAt),
		'what matters': ticket.matters ?? null,
		worth: ticket.worthMinor === undefined ? null : (ticket.worthMinor / 100).toFixed(2),
		year: ticket.year === undefined ? null : String(ticket.year),
		reported: ticket.reported ?? null,
		condition: ticket.condition ?? null,
		'left with it': ticket.accessories ?? null
	};
}

/** What was read of contacts or nodes that another model does not have stands in the way of calling it that model. */
function misfitOf(ticket: Ticket, model: string, catalog: Catalog): Refusal | null {
	const modelInfo = catalog.models.get(model);
	const pins = new Set([
		...PORT_PLACES,
		...(catalog.connectors.get(modelInfo?.connector ?? '')?.pins ?? []).map(({ pin }) => pin)
	]);
	const nodes = new Set((modelInfo?.path ?? []).map(({ node }) => node));
	const places = [
		...ticket.readings.map(({ pin }) => pin),
		...ticket.inspection.map(({ place }) => place),
		...ticket.continuity.flatMap(({ misses }) => misses.flat())
	];
	const points = new Set((modelInfo?.points ?? []).map(({ code }) => pointPlace(code)));
	const odd = places.find((place) => !pins.has(place) && !points.has(place));
	const oddNode = ticket.path.find(({ node }) => !nodes.has(node))?.node;
	if (odd === undefined && oddNode === undefined) return null;
	const point = pointOf(odd ?? '');
	const subject =
		odd === undefined
			? `node ${oddNode} of the power path`
			: point === null
				? `contact ${odd}`
				: `point ${point} of the board`;
	return refuse(
		'model',
		`is ${modelInfo?.label ?? model}, which has no ${subject}; strike out what was read there, or choose another model`
	);
}

const SIGN_WORDS = { true: 'yes', false: 'no' };
const signWords = (present: boolean | undefined) =>
	present === undefined ? 'not asked' : SIGN_WORDS[`${present}`];

/** A sign asked after the device was taken in, or asked again: the trail keeps what was said before. */
export function correctedSign(
	ticket: Ticket,
	{ sign, present }: { sign: string; present: boolean | null },
	stamp: ChangeStamp
): Ticket {
	const { [sign]: current, ...remaining } = ticket.signs;
	if ((current ?? null) === present) return { ...ticket };
	const isPresent = present ?? undefined;
	return {
		...ticket,
		signs: isPresent === undefined ? remaining : { ...remaining, [sign]: isPresent },
		corrections: [
			...ticket.corrections,
			{ field: `sign ${sign}`, from: signWords(current), to: signWords(isPresent), ...stamp }
		]
	};
}
