import { ROLES } from '$lib/core/units/role';
import { json, type RequestHandler } from '@sveltejs/kit';
import { shelfAsked } from '$lib/core/exchange/api-schemas';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { toShelfAnswer } from '$lib/server/api/answers';
import { requireBearer } from '$lib/server/api/requests';
import { database } from '$lib/server/database/connection';
import { problem } from '$lib/server/http/problem';
import { shelfNow } from '$lib/server/stock/queries';

export const GET: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ROLES);
	if (bearer instanceof Response) return bearer;
	const params = shelfAsked.safeParse(Object.fromEntries(event.url.searchParams));
	if (!params.success) {
		const errors = params.error.issues.map(describeIssue);
		return problem(422, 'Input refused', 'some parameters are not as the document says', errors);
	}
	const { service, as_of: asOf = Date.now() } = params.data;
	return json(toShelfAnswer(await shelfNow(await database(), asOf, service), asOf, service, bearer.role));
};
