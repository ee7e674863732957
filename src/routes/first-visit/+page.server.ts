import { fail, redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { CATALOG_KINDS } from '$lib/core/catalog/kinds';
import { database } from '$lib/server/database/connection';
import { readForm } from '$lib/server/http/read-form';
import { openShop } from '$lib/server/opening/open-shop';
import { setDeviceCookie, setSessionCookie } from '$lib/server/identity/cookie';
import { signIn } from '$lib/server/identity/sessions';
import { hasUsers, newUserBody } from '$lib/server/identity/users';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
	if (await hasUsers(await database())) redirect(303, '/sign-in');
	return { zones: Intl.supportedValuesOf('timeZone'), currencies: Intl.supportedValuesOf('currency') };
};

const { shape: shop } = CATALOG_KINDS.shop.schema;
const body = z.strictObject({
	...newUserBody.pick({ signIn: true, name: true, password: true }).shape,
	shop: shop.name,
	currency: shop.currency,
	timeZone: shop.time_zone,
	locale: shop.locale,
	starter: z.literal('on').optional()
});

export const actions: Actions = {
	default: async (event) => {
		const form = await readForm(event.request, body);
		const { kept } = form;
		if (!form.ok) return fail(400, { kept, problems: form.problems });
		const db = await database();
		const answer = await openShop(db, Date.now(), form.value);
		if (!answer.ok) return fail(400, { kept, problems: { [answer.field]: answer.message } });
		const { signIn: name, password } = form.value;
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
