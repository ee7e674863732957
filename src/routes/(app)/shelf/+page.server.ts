import { fail, type RequestEvent } from '@sveltejs/kit';
import { z } from 'zod';
import { learntYields } from '$lib/core/stock/harvest';
import {
	isSlow,
	openOrders,
	ranShortLately,
	shelfValue,
	stockIsLow,
	type ShelfPart
} from '$lib/core/stock/shelf';
import { proposeOrders } from '$lib/core/stock/proposals';
import { parseInstant } from '$lib/core/units/instant';
import { parseAmount } from '$lib/core/units/money';
import { seesCosts, BENCH_ROLES } from '$lib/core/units/role';
import { readCounted } from '$lib/core/units/typed-number';
import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { actorOf, requireUser } from '$lib/server/http/guard';
import { readForm } from '$lib/server/http/read-form';
import {
	closeOrder,
	harvestBody,
	harvestLot,
	moveBody,
	moveLot,
	orderBody,
	placeOrder,
	receiveBody,
	receiveLot,
	type ShelfActor,
	type ShelfAnswer
} from '$lib/server/stock/commands';
import { shelfThisHour } from '$lib/server/stock/queries';
import { endPartWaits, type EndedWaits } from '$lib/server/tickets/end-part-waits';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
	const { role } = requireUser(locals);
	const db = await database();
	const now = Date.now();
	const { parts: shelf, catalog, store } = await shelfThisHour(db, now);
	const sees = seesCosts(role);
	const chosen = shelf.find(({ sku }) => sku === url.searchParams.get('part')) ?? null;
	const { supplier: suppliers } = catalog.records;
	const supplierOf = (code: string | null) => (code === null ? null : (suppliers.get(code)?.label ?? code));
	const labelOf = (sku: string) => catalog.parts.get(sku)?.label ?? sku;
	const orders = store.orders
		.filter(({ closed }) => !closed)
		.map((order) => ({
			code: order.code,
			supplier: supplierOf(order.supplier) as string,
			placedAt: parseInstant(order.placed_at),
			expectedAt: order.expected_at === undefined ? null : parseInstant(order.expected_at),
			lines: order.lines.map(({ sku, quantity, received = 0 }) => ({
				sku,
				label: labelOf(sku),
				quantity,
				received
			}))
		}));
	return {
		service: catalog.shop.service,
		parts: shelf.map((part) => ({
			...forRole(part, sees),
			low: stockIsLow(part),
			missed: ranShortLately(part, now),
			slow: isSlow(part, now)
		})),
		...(sees ? shelfValue(shelf, now) : { valueMinor: null, slowMinor: null }),
		scanned: url.searchParams.get('lot'),
		chosen: chosen && {
			...forRole(chosen, sees),
			missed: ranShortLately(chosen, now),
			supplierLabel: supplierOf(chosen.supplier),
			unitMinor: sees ? (catalog.parts.get(chosen.sku)?.unitCostMinor ?? 0) : null,
			yields: (catalog.parts.get(chosen.sku)?.yields ?? []).map(({ sku, quantity }) => ({
				sku,
				quantity,
				label: labelOf(sku)
			})),
			learnt: learntYields(
				{ sku: chosen.sku, yields: catalog.parts.get(chosen.sku)?.yields },
				store.lots,
				store.movements
			).map((learnt) => ({ ...learnt, label: labelOf(learnt.sku) })),
			lots: chosen.lots.map((lot) => ({
				...lot,
				unitMinor: sees ? lot.unitMinor : null,
				supplier: supplierOf(lot.supplier)
			}))
		},
		orders,
		proposals:
			role === 'manager'
				? proposeOrders(shelf, {
						suppliers,
						unitMinor: (sku) => catalog.parts.get(sku)?.unitCostMinor ?? 0,
						holdingShare: catalog.shop.holdingShare
					}).map((proposal) => ({ ...proposal, label: supplierOf(proposal.supplier) }))
				: [],
		waiting: [...openOrders(store.orders).values()].reduce((sum, pieces) => sum + pieces, 0)
	};
};

/** Quantities for everybody; what it costs for who may see that. */
function forRole({ valueMinor, lots: _, ...part }: ShelfPart, sees: boolean) {
	return { ...part, valueMinor: sees ? valueMinor : null };
}

const numbers = (values: Record<string, string>, locale: string, ...names: string[]) => ({
	...values,
	...Object.fromEntries(names.map((name) => [name, readCounted(values[name] ?? '', locale) ?? values[name]]))
});
const withoutEmpty = (values: Record<string, unknown>) =>
	Object.fromEntries(Object.entries(values).filter(([, value]) => value !== ''));

/** One command of the page: its form read, its answer worded for the form that sent it. */
async function run<Body extends z.ZodType>(
	{ locals, request }: RequestEvent,
	form: string,
	schema: Body,
	shaped: (values: Record<string, string>, locale: string) => unknown,
	command: (actor: ShelfActor, body: z.output<Body>) => Promise<ShelfAnswer>,
	roles: readonly ('manager' | 'technician')[] = BENCH_ROLES
) {
	const user = requireUser(locals, roles);
	const catalog = await shopCatalog(await database());
	const read = await readForm(request, schema, (values) => shaped(values, catalog.shop.locale));
	if (!read.ok) return fail(422, { form, problems: read.problems, kept: read.kept });
	const { by: actor, name } = actorOf(user);
	const answer = await command({ by: actor, name, now: Date.now() }, read.value);
	if (answer.ok) return { form, done: answer.done };
	const { field, message } = answer.refusal;
	return fail(422, { form, problems: { [field]: message }, kept: read.kept });
}

const waitsWords = ({ ended, refused }: EndedWaits): string =>
	[
		...(ended.length > 0 ? [`${ended.join(', ')} ${ended.length === 1 ? 'waits' : 'wait'} no more`] : []),
		...refused.map(({ number, why: reason }) => `${number} still waits: ${reason}`)
	].join('; ');

export const actions: Actions = {
	receive: (event) => {
		const user = requireUser(event.locals, BENCH_ROLES);
		return run(
			event,
			'receive',
			receiveBody,
			({ unit_cost: cost = '', ...values }, locale) =>
				withoutEmpty({
					...numbers(values, locale, 'quantity', 'line'),
					...(cost !== '' ? { unitMinor: parseAmount(cost, locale) ?? cost } : {})
				}),
			async (actor, body) => {
				const db = await database();
				// what it cost is the manager's to say
				const { unitMinor, ...receipt } = body;
				const cost = seesCosts(user.role) && unitMinor !== undefined ? { unitMinor } : {};
				return receiveLot(db, actor, { ...receipt, ...cost }, async (trx) =>
					waitsWords(await endPartWaits(trx, actorOf(user), actor.now, body.sku))
				);
			}
		);
	},
	move: (event) =>
		run(
			event,
			'move',
			moveBody,
			(values, locale) => withoutEmpty(numbers(values, locale, 'quantity')),
			async (actor, body) => moveLot(await database(), actor, body)
		),
	harvest: (event) =>
		run(
			event,
			'harvest',
			harvestBody,
			({ lot, donors, ...gave }, locale) => ({
				...numbers({ lot: lot ?? '', donors: donors ?? '' }, locale, 'donors'),
				gave: Object.entries(gave).flatMap(([name, typed]) =>
					name.startsWith('gave:')
						? [{ sku: name.slice(5), quantity: readCounted(typed || '0', locale) ?? typed }]
						: []
				)
			}),
			async (actor, body) => harvestLot(await database(), actor, body)
		),
	order: (event) =>
		run(
			event,
			'order',
			orderBody,
			({ supplier, ...lines }, locale) => ({
				supplier,
				lines: Object.entries(lines).flatMap(([name, typed]) => {
					const quantity = readCounted(typed || '0', locale) ?? typed;
					return name.startsWith('sku:') && quantity !== 0 ? [{ sku: name.slice(4), quantity }] : [];
				})
			}),
			async (actor, body) => placeOrder(await database(), actor, body),
			['manager']
		),
	close: (event) =>
		run(
			event,
			'close',
			z.strictObject({ order: z.string().max(64) }),
			(values) => values,
			async (actor, { order }) => closeOrder(await database(), actor, order),
			['manager']
		)
};
