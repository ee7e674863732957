import { error, type RequestHandler } from '@sveltejs/kit';
import { customerData } from '$lib/server/customers/export';
import { database } from '$lib/server/database/connection';
import { requireUser } from '$lib/server/http/guard';

/** All that is kept of one customer, as JSON, for them to take along. */
export const GET: RequestHandler = async ({ locals, params }) => {
	const user = requireUser(locals, ['manager', 'counter']);
	const id = Number(params.id);
	const data =
		Number.isSafeInteger(id) && id > 0
			? await customerData(await database(), user.name, Date.now(), id)
			: null;
	if (!data) error(404, 'There is no such customer.');
	return new Response(JSON.stringify(data, null, '\t'), {
		headers: {
			'content-type': 'application/json',
			'content-disposition': `attachment; filename="customer-${id}.json"`,
			'cache-control': 'no-store'
		}
	});
};
