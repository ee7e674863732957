import { knownIn } from '$lib/core/evidence/known-codes';
import { error, fail, redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { newestProcedures } from '$lib/core/catalog/catalog';
import { KINDS_OF_BENCH } from '$lib/core/catalog/kinds-of-bench';
import { needsOf } from '$lib/core/catalog/needs';
import { ALLOYS } from '$lib/core/charging/solder-alloys';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { freeCode } from '$lib/core/units/code';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { readForm } from '$lib/server/http/read-form';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import type { Actions, PageServerLoad } from './$types';

const NEW = 'new';

export const load: PageServerLoad = async ({ locals, params, url }) => {
	const user = requireUser(locals);
	const catalog = await shopCatalog(await database());
	const versions = [...catalog.records.procedure.values()]
		.filter(({ code }) => code === params.code)
		.sort((a, b) => b.version - a.version);
	const versionNumber = Number(url.searchParams.get('version') ?? versions[0]?.version ?? 0);
	const procedure = versions.find(({ version }) => version === versionNumber) ?? null;
	if (!procedure && params.code !== NEW)
		error(404, 'There is no such procedure; choose one in the Workbook.');
	if (!procedure && user.role !== 'manager') error(403, 'Only managers can write procedures.');
	return {
		mayWrite: user.role === 'manager',
		procedure,
		versions: versions.map(({ version }) => version),
		operations: [...catalog.operations.values()].map(({ code, label }) => ({ code, label })),
		gates: [...catalog.gates.values()].map(({ code, label }) => ({ code, label })),
		parts: [...catalog.parts.values()].map(({ sku, label }) => ({ code: sku, label })),
		stations: [...catalog.stations.values()].map(({ code, label }) => ({ code, label })),
		skills: [...new Set([...catalog.technicians.values()].flatMap(({ skills }) => skills ?? []))].sort(),
		alloys: ALLOYS.map(({ code, label, liquidus }) => ({ code, label: `${label}, ${liquidus} °C` }))
	};
};

const sent = z.strictObject({
	/** the version that was on the screen; 0 for a new one */
	based: z.coerce.number().int().min(0),
	procedure: z.string().max(60_000)
});

const readText = (text: string): unknown => {
	try {
		return JSON.parse(text);
	} catch {
		return null;
	}
};

export const actions: Actions = {
	/** Every save is a version of its own: what followed the one before still shows it. */
	default: async ({ request, locals, params }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(request, sent);
		if (!form.ok) return fail(400, { problems: Object.values(form.problems) });
		const db = await database();
		const catalog = await shopCatalog(db);
		const typed = z.record(z.string(), z.unknown()).safeParse(readText(form.value.procedure));
		if (!typed.success) return fail(400, { problems: ['The procedure could not be read. Send it again.'] });
		const label = typeof typed.data.label === 'string' ? typed.data.label : '';
		const isTaken = (code: string) =>
			code === NEW || [...catalog.records.procedure.values()].some((procedure) => procedure.code === code);
		const code = params.code === NEW ? freeCode(label, 'procedure', isTaken) : params.code;
		const newest = Math.max(
			0,
			...[...catalog.records.procedure.values()]
				.filter((procedure) => procedure.code === code)
				.map(({ version }) => version)
		);
		if (newest !== form.value.based) {
			return fail(409, {
				problems: [
					`Someone else saved version ${newest} in the meantime. Your draft is kept here: open theirs in another tab, then save again.`
				]
			});
		}
		const record = { ...typed.data, record: 'procedure', code, version: newest + 1 };
		const parsed = KINDS_OF_BENCH.procedure.schema.safeParse(record);
		if (!parsed.success) return fail(400, { problems: parsed.error.issues.map(describeIssue).map(inWords) });
		const problems: string[] = [];
		const need = needsOf(knownIn(catalog), 'which the catalog does not hold', ({ path, message }) =>
			problems.push(inWords({ path, message }))
		);
		KINDS_OF_BENCH.procedure.refers?.(parsed.data, need);
		if (problems.length > 0) return fail(400, { problems });
		const saved = await saveCatalogRecord(db, user.name, Date.now(), parsed.data, null);
		if (!saved.ok) return fail(409, { problems: [`${saved.field} ${saved.message}`] });
		const shown = newestProcedures([parsed.data]).has(code);
		redirect(303, shown ? `/workbook/procedures/${code}` : '/workbook/procedures');
	}
};

/** "steps.3.minutes" as people count: step 4, minutes. */
function inWords({ path, message }: { path: string; message: string }): string {
	const [list, index, ...rest] = path.split('.');
	return list === 'steps' && index !== undefined
		? `Step ${Number(index) + 1}${rest.length > 0 ? `, ${rest.join(' ')}` : ''} ${message}`
		: `${path} ${message}`;
}
