import { error, fail, redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { ticketNumberSchema } from '$lib/core/units/code';
import { HEARS_BY } from '$lib/core/tickets/ticket-record';
import { seesCosts } from '$lib/core/units/role';
import { mergeBody, mergeCustomers, saveBody, saveCustomer } from '$lib/server/customers/commands';
import { eraseCustomer } from '$lib/server/customers/erase';
import { endOwnLink } from '$lib/server/customers/own-page';
import { customerPage } from '$lib/server/customers/queries';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';
import { readForm } from '$lib/server/http/read-form';
import type { Actions, PageServerLoad } from './$types';

const idOf = (text: string | undefined): number => {
	const id = Number(text);
	if (!Number.isSafeInteger(id) || id < 1) error(404, 'There is no such customer.');
	return id;
};

export const load: PageServerLoad = async ({ locals, params }) => {
	const user = requireUser(locals, ['manager', 'counter']);
	const page = await customerPage(await database(), idOf(params.id), seesCosts(user.role));
	if (!page) error(404, 'There is no such customer. It may have been merged with another.');
	return { ...page, hears: HEARS_BY, manager: user.role === 'manager' };
};

/** Fields that are left empty are not said. */
const saidOnly = (typed: Record<string, string>) =>
	Object.fromEntries(Object.entries(typed).filter(([name, value]) => name === 'name' || value !== ''));

export const actions: Actions = {
	save: async ({ request, locals, params }) => {
		const user = requireUser(locals, ['manager', 'counter']);
		const form = await readForm(request, saveBody, (typed) => ({ ...saidOnly(typed), id: params.id }));
		if (!form.ok) return fail(400, { problems: form.problems, kept: form.kept });
		const answer = await saveCustomer(await database(), user.name, Date.now(), form.value);
		return answer.ok
			? { saved: true }
			: fail(409, { problems: { [answer.field]: answer.message }, kept: form.kept });
	},
	merge: async ({ request, locals, params }) => {
		const user = requireUser(locals, ['manager', 'counter']);
		const form = await readForm(request, mergeBody, (typed) => ({ into: typed.into, id: params.id }));
		if (!form.ok) return fail(400, { problems: form.problems });
		const answer = await mergeCustomers(await database(), user.name, Date.now(), form.value);
		if (!answer.ok) return fail(409, { problems: { [answer.field]: answer.message } });
		redirect(303, `/customers/${form.value.into}`);
	},
	link: async ({ request, locals, params }) => {
		const user = requireUser(locals, ['manager', 'counter']);
		const form = await readForm(request, z.strictObject({ number: ticketNumberSchema }));
		if (!form.ok) return fail(400, { problems: form.problems });
		const device = { id: idOf(params.id), number: form.value.number };
		return (await endOwnLink(await database(), user.name, Date.now(), device))
			? { saved: true }
			: fail(404, { problems: { number: `is ${device.number}, which is no device of theirs` } });
	},
	erase: async ({ locals, params }) => {
		const user = requireUser(locals, ['manager']);
		const answer = await eraseCustomer(await database(), user.name, Date.now(), idOf(params.id));
		if (!answer.ok) return fail(409, { problems: { [answer.field]: answer.message } });
		redirect(303, '/customers');
	}
};
