import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { MODES, referenceRecord, type Mode } from '$lib/core/readings/reference';
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
import { signaturesOf } from '$lib/server/catalog/signatures';
import { verdictsThatLeanedOn } from '$lib/server/catalog/withdrawn';
import { database } from '$lib/server/database/connection';
import { shopMemory } from '$lib/server/diagnosis/shop-memory';
import { fieldOf, readForm } from '$lib/server/house/read-form';
import { requireUser } from '$lib/server/house/guard';
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
	const asked = (name: string) => url.searchParams.get(name)?.slice(0, 64) || undefined;
	const taken = { meter: asked('meter'), board: asked('board') };
	const stored = chosen ? [...(memory.shelf.byModel.get(chosen.code) ?? [])] : [];
	const book = memory.shelf.book(chosen?.code ?? '');
	const contacts = (connector?.pins ?? []).map(({ pin, net }) => ({
		pin,
		net,
		expected: book.expected(pin, mode, taken)
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
		meter: taken.meter ?? '',
		board: taken.board ?? '',
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

export const actions: Actions = {
	withdraw: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager', 'technician']);
		const form = await readForm(request);
		if (!form.ok) return fail(400, { withdrawProblem: Object.entries(form.problems)[0]?.join(' ') ?? '' });
		const parsed = withdrawBody.safeParse(form.values);
		if (!parsed.success)
			return fail(400, { withdrawProblem: describeIssue(parsed.error.issues[0]!).message });
		const answer = await withdrawReference(await database(), user.name, Date.now(), parsed.data);
		return answer.ok ? { withdrawn: parsed.data.id } : fail(409, { withdrawProblem: answer.message });
	},
	restore: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager', 'technician']);
		const id = z.coerce
			.number()
			.int()
			.min(1)
			.safeParse(await fieldOf(request, 'id'));
		if (!id.success) return fail(400, { withdrawProblem: 'names no reading; reload the page' });
		const answer = await restoreReference(await database(), user.name, Date.now(), id.data);
		return answer.ok ? { restored: id.data } : fail(409, { withdrawProblem: answer.message });
	},
	add: async ({ request, locals, url }) => {
		const user = requireUser(locals, ['manager', 'technician']);
		const form = await readForm(request);
		const kept = form.values;
		if (!form.ok) return fail(400, { kept, addProblem: Object.entries(form.problems)[0]?.join(' ') ?? '' });
		const typed = kept.value?.trim() ?? '';
		const shown = /^ol$/i.test(typed) ? { overload: true } : parseTypedReading(typed);
		if (!shown) {
			return fail(400, { kept, addProblem: `Reading is “${typed}”; write 468 or 0.468, or OL for overload` });
		}
		const now = Date.now();
		const parsed = referenceRecord.safeParse({
			record: 'reference',
			model: url.searchParams.get('model') ?? '',
			pin: kept.pin,
			mode: kept.mode,
			...shown,
			grade: kept.grade,
			taken_at: formatInstant(now),
			...(kept.meter ? { meter: kept.meter } : {}),
			...(kept.board ? { board: kept.board } : {})
		});
		if (!parsed.success) {
			const { path, message } = describeIssue(parsed.error.issues[0]!);
			return fail(400, { kept, addProblem: `${path}: ${message}` });
		}
		const db = await database();
		const { catalog } = await shopMemory(db);
		const connector = catalog.connectors.get(catalog.models.get(parsed.data.model)?.connector ?? '');
		if (!connector?.pins.some(({ pin }) => pin === parsed.data.pin)) {
			return fail(400, {
				kept,
				addProblem: `Contact is “${parsed.data.pin}”, which this model does not have; reload the page`
			});
		}
		await addReferences(db, user.name, now, [parsed.data]);
		return { added: parsed.data.pin };
	}
};
