import { fail, redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { shopRecord } from '$lib/core/catalog/records';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { database } from '$lib/server/database/connection';
import { readForm } from '$lib/server/house/read-form';
import { openShop } from '$lib/server/house/open-shop';
import { setDeviceCookie, setSessionCookie } from '$lib/server/identity/cookie';
import { signIn } from '$lib/server/identity/sessions';
import { hasUsers, newUserBody } from '$lib/server/identity/users';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
	if (await hasUsers(await database())) redirect(303, '/sign-in');
	return { zones: Intl.supportedValuesOf('timeZone'), currencies: Intl.supportedValuesOf('currency') };
};

const body = z.strictObject({
	...newUserBody.pick({ signIn: true, name: true, password: true }).shape,
	shop: shopRecord.shape.name,
	currency: shopRecord.shape.currency,
	timeZone: shopRecord.shape.time_zone,
	locale: shopRecord.shape.locale,
	starter: z.literal('on').optional()
});

export const actions: Actions = {
	default: async (event) => {
		const form = await readForm(event.request);
		const { values } = form;
		const { password: _, ...kept } = values;
		if (!form.ok) return fail(400, { kept, problems: form.problems });
		const parsed = body.safeParse(values);
		if (!parsed.success) {
			const problems = Object.fromEntries(
				parsed.error.issues.map(describeIssue).map(({ path, message }) => [path, message])
			);
			return fail(400, { kept, problems });
		}
		const db = await database();
		const answer = await openShop(db, Date.now(), parsed.data);
		if (!answer.ok) return fail(400, { kept, problems: { [answer.field]: answer.message } });
		const { signIn: name, password } = parsed.data;
		const signed = await signIn(db, Date.now(), {
			signIn: name,
			password,
			address: event.getClientAddress()
		});
		if (signed.ok) {
			setSessionCookie(event, signed.token);
			setDeviceCookie(event, signed.device);
		}
		redirect(303, '/floor');
	}
};
