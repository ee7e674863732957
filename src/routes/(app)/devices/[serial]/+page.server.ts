import { error } from '@sveltejs/kit';
import { codeWords } from '$lib/core/units/code';
import { seesCosts } from '$lib/core/units/role';
import { deviceLife } from '$lib/server/books/queries';
import { catalogNow } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, params }) => {
	const { role } = requireUser(locals);
	const db = await database();
	const serial = params.serial.slice(0, 64);
	const [visits, catalog] = await Promise.all([deviceLife(db, serial), catalogNow(db)]);
	if (visits.length === 0) error(404, `No ticket names the serial number ${serial}.`);
	const sees = seesCosts(role);
	const sum = (valueOf: (visit: (typeof visits)[number]) => number) =>
		visits.reduce((all, visit) => all + valueOf(visit), 0);
	const last = visits.at(-1)?.model ?? '';
	return {
		serial,
		model: catalog.models.get(last)?.label ?? last,
		visits: visits.map(({ paidMinor, partsMinor, labourMinor, profitMinor, ...visit }) => ({
			...visit,
			faults: visit.faults.map((code) => catalog.faults.get(code)?.label ?? codeWords(code)),
			operations: visit.operations.map(({ operation, resolved }) => ({
				label: catalog.operations.get(operation)?.label ?? codeWords(operation),
				resolved
			})),
			outcome: codeWords(visit.outcome ?? ''),
			books: sees ? { paidMinor, partsMinor, labourMinor, profitMinor } : null
		})),
		total: sees
			? {
					paidMinor: sum(({ paidMinor }) => paidMinor),
					partsMinor: sum(({ partsMinor }) => partsMinor),
					labourMinor: sum(({ labourMinor }) => labourMinor),
					profitMinor: sum(({ profitMinor }) => profitMinor)
				}
			: null
	};
};
