import { BENCH_ROLES } from '$lib/core/units/role';
import { error } from '@sveltejs/kit';
import { openRun } from '$lib/core/bench/procedure-run';
import { procedureAt } from '$lib/core/catalog/catalog';
import { benchCatalog } from '$lib/server/catalog/bench-catalog';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { causesOfOperation } from '$lib/server/returns/causes-at-steps';
import { ticketView } from '$lib/server/tickets/view';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params, url }) => {
	const user = requireUser(locals, BENCH_ROLES);
	const db = await database();
	const view = await ticketView(db, params.number, user.role, Date.now());
	if (!view) error(404, `There is no ticket ${params.number}. Check the number on the tag.`);
	const catalog = await shopCatalog(db);
	const run = openRun(view.ticket.steps);
	const procedureCode = url.searchParams.get('procedure') ?? '';
	const followed = run
		? procedureAt(catalog, run.procedure, run.version)
		: catalog.procedures.get(procedureCode);
	const model = view.ticket.model;
	const operation = followed?.operation;
	return {
		view,
		cameBack: operation === undefined ? null : await causesOfOperation(db, operation, catalog),
		bench: benchCatalog(catalog, model),
		followed: followed ?? null,
		procedures: [...catalog.procedures.values()]
			.filter(({ models }) => !models || models.includes(model))
			.map(({ code, version, label, operation, school, about: description, steps }) => ({
				code,
				version,
				label,
				operation,
				operationLabel: catalog.operations.get(operation)?.label ?? operation,
				school: school ?? null,
				about: description ?? null,
				steps: steps.length,
				minutes: steps.reduce((sum, { kind, minutes = 0 }) => sum + (kind === 'wait' ? 0 : minutes), 0)
			})),
		stations: [...catalog.stations.values()].map(({ code, label }) => ({ code, label }))
	};
};
