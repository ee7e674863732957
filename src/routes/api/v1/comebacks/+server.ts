import { json, type RequestHandler } from '@sveltejs/kit';
import { comebacksAsked } from '$lib/core/exchange/api-schemas';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { toComebacksAnswer } from '$lib/server/api/answers';
import { requireBearer } from '$lib/server/api/requests';
import { askerOf } from '$lib/server/http/guard';
import { problem } from '$lib/server/http/problem';
import { comebacksAside } from '$lib/server/worker/ask';

export const GET: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ['manager']);
	if (bearer instanceof Response) return bearer;
	const params = comebacksAsked.safeParse(Object.fromEntries(event.url.searchParams));
	if (!params.success) {
		const errors = params.error.issues.map(describeIssue);
		return problem(422, 'Input refused', 'some parameters are not as the document says', errors);
	}
	const { by: kind, days, as_of: asOf = null } = params.data;
	return json(toComebacksAnswer(await comebacksAside(kind, days, asOf, askerOf(event.locals))));
};
