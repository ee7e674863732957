import { fail } from '@sveltejs/kit';
import { catalogNow } from '$lib/server/catalog/queries';
import { eraseCustomer } from '$lib/server/customers/erase';
import { findCustomers, keptUntil, mayBeErased } from '$lib/server/customers/queries';
import { database } from '$lib/server/database/connection';
import { stuckMessages } from '$lib/server/messages/queries';
import { requireUser } from '$lib/server/http/guard';
import type { Actions, PageServerLoad } from './$types';

/** Customers by name, telephone or mail; who has not been here for as long as the shop keeps, for the manager. */
export const load: PageServerLoad = async ({ locals, url }) => {
	const user = requireUser(locals, ['manager', 'counter']);
	const db = await database();
	const typed = (url.searchParams.get('typed') ?? '').slice(0, 100);
	const { shop } = await catalogNow(db);
	const manager = user.role === 'manager';
	const [customers, stuck, old] = await Promise.all([
		findCustomers(db, typed),
		stuckMessages(db),
		manager ? mayBeErased(db, keptUntil(Date.now(), shop.keepCustomersDays)) : []
	]);
	return { typed, customers, stuck, old: old.length, keptDays: shop.keepCustomersDays, manager };
};

export const actions: Actions = {
	erase: async ({ locals }) => {
		const user = requireUser(locals, ['manager']);
		const db = await database();
		const now = Date.now();
		const { shop } = await catalogNow(db);
		let erased = 0;
		for (const { id } of await mayBeErased(db, keptUntil(now, shop.keepCustomersDays))) {
			const answer = await eraseCustomer(db, user.name, now, id);
			if (answer.ok) erased += 1;
		}
		return erased > 0 ? { erased } : fail(409, { problem: 'Nobody could be erased; reload the page.' });
	}
};
