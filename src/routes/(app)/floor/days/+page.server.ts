import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import { KINDS_OF_BENCH } from '$lib/core/catalog/kinds-of-bench';
import { codeSchema } from '$lib/core/units/code';
import { daysAfter, momentOn } from '$lib/core/units/calendar';
import { formatInstant, parseInstant } from '$lib/core/units/instant';
import { saveCatalogRecord } from '$lib/server/catalog/commands';
import { recordVersion } from '$lib/server/catalog/queries';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { readForm } from '$lib/server/http/read-form';
import {
	calendarLinks,
	endCalendarLink,
	LINK_DAYS,
	makeCalendarLink
} from '$lib/server/identity/calendar-links';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { floorNow } from '$lib/server/worker/ask';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
	const user = requireUser(locals);
	const db = await database();
	const [catalog, links, floor] = await Promise.all([
		shopCatalog(db),
		user.role === 'manager' ? calendarLinks(db) : Promise.resolve([]),
		floorNow()
	]);
	return {
		technicians: [...catalog.technicians.values()].map(({ code, name }) => ({ code, name })),
		absences: [...catalog.records.absence.values()]
			.map(({ technician, from, to, why: reason, cancelled }) => ({
				technician,
				from: parseInstant(from),
				to: parseInstant(to),
				why: reason ?? null,
				cancelled: cancelled ?? false
			}))
			.filter(({ to, cancelled }) => to > floor.now && !cancelled)
			.sort((a, b) => a.from - b.from),
		links: links.map(({ technician, endsAt }) => ({ technician, endsAt })),
		linkDays: LINK_DAYS,
		own: floor.tasks.filter(({ technician }) => technician === user.technician),
		now: floor.now
	};
};

const day = z.iso.date('is no date; write it as 2026-12-24');
const absenceForm = z.strictObject({
	technician: codeSchema,
	from: day,
	to: day,
	why: z.string().trim().max(80).default('')
});
const cancelForm = z.strictObject({ technician: codeSchema, from: z.coerce.number().int() });
const endForm = z.strictObject({ technician: codeSchema });
const linkForm = z.strictObject({
	technician: codeSchema,
	days: z
		.enum(LINK_DAYS.map(String) as [string, ...string[]])
		.transform((days) => Number(days) as (typeof LINK_DAYS)[number])
});

const localDay = (text: string) => {
	const [year = 0, month = 1, dayOfMonth = 1] = text.split('-').map(Number);
	return { year, month, day: dayOfMonth };
};

export const actions: Actions = {
	/** Whole days by the shop's clock, the last one with them. */
	away: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(request, absenceForm);
		if (!form.ok) return fail(400, { problems: form.problems, kept: form.kept });
		const db = await database();
		const catalog = await shopCatalog(db);
		const { technician, from, to, why: reason } = form.value;
		const refuse = (field: string, message: string) =>
			fail(400, { problems: { [field]: message } as Record<string, string>, kept: form.kept });
		if (!catalog.technicians.has(technician))
			return refuse('technician', `is ${technician}, who is not a technician here`);
		if (to < from) return refuse('to', `is ${to}, before ${from}`);
		const zone = catalog.shop.timeZone;
		const record = {
			record: 'absence' as const,
			technician,
			from: formatInstant(momentOn(localDay(from), 0, zone)),
			to: formatInstant(momentOn(daysAfter(localDay(to), 1), 0, zone)),
			...(reason ? { why: reason } : {})
		};
		const key = KINDS_OF_BENCH.absence.key(record);
		const version = await recordVersion(db, 'absence', key);
		const saved = await saveCatalogRecord(db, user.name, Date.now(), record, version);
		return saved.ok ? { saved: true } : refuse(saved.field, saved.message);
	},
	back: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(request, cancelForm);
		if (!form.ok) return fail(400, { problems: form.problems });
		const db = await database();
		const key = `${form.value.technician} ${formatInstant(form.value.from)}`;
		const catalog = await shopCatalog(db);
		const known = catalog.records.absence.get(key);
		const version = known ? await recordVersion(db, 'absence', key) : null;
		if (!known || version === null) return fail(404, { problems: { technician: 'has no such absence' } });
		await saveCatalogRecord(db, user.name, Date.now(), { ...known, cancelled: true }, version);
		return { saved: true };
	},
	link: async ({ request, locals, url }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(request, linkForm);
		if (!form.ok) return fail(400, { problems: form.problems });
		const secret = await makeCalendarLink(
			await database(),
			user.name,
			Date.now(),
			form.value.technician,
			form.value.days
		);
		return { link: { technician: form.value.technician, address: `${url.origin}/calendar/${secret}.ics` } };
	},
	end: async ({ request, locals }) => {
		const user = requireUser(locals, ['manager']);
		const form = await readForm(request, endForm);
		if (!form.ok) return fail(400, { problems: form.problems });
		await endCalendarLink(await database(), user.name, Date.now(), form.value.technician);
		return { saved: true };
	}
};
