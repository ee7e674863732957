import { BENCH_ROLES } from '$lib/core/units/role';
import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import { referenceRecord, type Mode } from '$lib/core/readings/reference';
import { MODES } from '$lib/core/units/probed-place';
import { boardsForSteadyTolerance } from '$lib/core/readings/expected';
import { parseTypedReading } from '$lib/core/readings/typed-reading';
import { formatInstant } from '$lib/core/units/instant';
import {
	addReferences,
	restoreReference,
	withdrawBody,
	withdrawReference
} from '$lib/server/catalog/known-good';
import { referenceCounts } from '$lib/server/catalog/queries';
import { signaturesOf } from '$lib/server/known-good/signatures';
import { verdictsThatLeanedOn } from '$lib/server/known-good/withdrawn';
import { database } from '$lib/server/database/connection';
import { shopCatalog, shopMemory } from '$lib/server/memory/shop-memory';
import { readForm } from '$lib/server/http/read-form';
import { requireUser } from '$lib/server/http/guard';
import type { Actions, PageServerLoad } from './$types';

const SHOWN_SIGNATURES = 12;

export const load: PageServerLoad = async ({ locals, url }) => {
	requireUser(locals);
	const db = await database();
	const memory = await shopMemory(db);
	const counts = await referenceCounts(db);
	const { models, connectors, faults } = memory.catalog;
	const list = [...models.values()]
		.map(({ code, label, connector }) => ({
			code,
			label,
			connector: connector ?? null,
			readings: counts.get(code) ?? 0
		}))
		.sort((a, b) => b.readings - a.readings || (a.label < b.label ? -1 : 1));
	const chosen = models.get(url.searchParams.get('model') ?? '') ?? models.get(list[0]?.code ?? '');
	const connector = connectors.get(chosen?.connector ?? '') ?? null;
	const mode: Mode = z.enum(MODES).catch('diode').parse(url.searchParams.get('mode'));
	const queryParam = (name: string) => url.searchParams.get(name)?.slice(0, 64) || undefined;
	const conditions = { meter: queryParam('meter'), board: queryParam('board') };
	const stored = chosen ? [...(memory.shelf.byModel.get(chosen.code) ?? [])] : [];
	const book = memory.shelf.book(chosen?.code ?? '');
	const contacts = (connector?.pins ?? []).map(({ pin, net }) => ({
		pin,
		net,
		expected: book.expected(pin, mode, conditions)
	}));
	const found = chosen ? await signaturesOf(db, memory, chosen.code) : null;
	const worded = (list: NonNullable<typeof found>['nets']) =>
		list.slice(0, SHOWN_SIGNATURES).map((signature) => ({
			...signature,
			label: faults.get(signature.fault)?.label ?? signature.fault
		}));
	const names = (all: (string | undefined)[]) =>
		[...new Set(all.filter((name) => name !== undefined))].sort();
	const withdrawn = Number(url.searchParams.get('withdrawn') ?? 0);
	return {
		list,
		chosen: chosen ? { code: chosen.code, label: chosen.label } : null,
		connector,
		contacts,
		mode,
		meter: conditions.meter ?? '',
		board: conditions.board ?? '',
		meters: names(stored.map(({ reference }) => reference.meter)),
		boards: names(stored.map(({ reference }) => reference.board)),
		readings: stored.filter(({ reference }) => reference.mode === mode),
		steadyFrom: boardsForSteadyTolerance(),
		signatures: found
			? {
					contacts: worded(found.contacts),
					nets: worded(found.nets),
					ownTickets: found.ownTickets,
					allTickets: found.allTickets
				}
			: null,
		factors: [...memory.shelf.factors].map(([pair, factor]) => {
			const [from = '', to = ''] = pair.split('\t');
			return { from, to, ...factor };
		}),
		leaned: withdrawn > 0 ? await verdictsThatLeanedOn(db, memory, withdrawn) : null
	};
};

/** A reading as it is typed; nothing where it is none. */
const shownBy = (typed: string) =>
	/^ol$/i.test(typed.trim()) ? { overload: true } : (parseTypedReading(typed.trim()) ?? {});

export const actions: Actions = {
	withdraw: async ({ request, locals }) => {
		const user = requireUser(locals, BENCH_ROLES);
		const form = await readForm(request, withdrawBody);
		if (!form.ok) return fail(400, { withdrawProblem: Object.values(form.problems)[0] ?? '' });
		const answer = await withdrawReference(await database(), user.name, Date.now(), form.value);
		return answer.ok ? { withdrawn: form.value.id } : fail(409, { withdrawProblem: answer.message });
	},
	restore: async ({ request, locals }) => {
		const user = requireUser(locals, BENCH_ROLES);
		const form = await readForm(request, withdrawBody.pick({ id: true }));
		if (!form.ok) return fail(400, { withdrawProblem: 'names no reading; reload the page' });
		const { id } = form.value;
		const answer = await restoreReference(await database(), user.name, Date.now(), id);
		return answer.ok ? { restored: id } : fail(409, { withdrawProblem: answer.message });
	},
	add: async ({ request, locals, url }) => {
		const user = requireUser(locals, BENCH_ROLES);
		const now = Date.now();
		const form = await readForm(request, referenceRecord, (typed) => ({
			record: 'reference',
			model: url.searchParams.get('model') ?? '',
			pin: typed.pin,
			mode: typed.mode,
			...shownBy(typed.value ?? ''),
			grade: typed.grade,
			taken_at: formatInstant(now),
			...(typed.meter ? { meter: typed.meter } : {}),
			...(typed.board ? { board: typed.board } : {})
		}));
		const { kept } = form;
		if (!form.ok) {
			const typed = kept.value?.trim() ?? '';
			const [field = '', message = ''] = Object.entries(form.problems)[0] ?? [];
			const words =
				field === 'value'
					? `Reading is “${typed}”; write 468 or 0.468, or OL for overload`
					: `${field}: ${message}`;
			return fail(400, { kept, addProblem: words });
		}
		const reference = form.value;
		const db = await database();
		const catalog = await shopCatalog(db);
		const connector = catalog.connectors.get(catalog.models.get(reference.model)?.connector ?? '');
		if (!connector?.pins.some(({ pin }) => pin === reference.pin)) {
			return fail(400, {
				kept,
				addProblem: `Contact is “${reference.pin}”, which this model does not have; reload the page`
			});
		}
		await addReferences(db, user.name, now, [reference]);
		return { added: reference.pin };
	}
};
