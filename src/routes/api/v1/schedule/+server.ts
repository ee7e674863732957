import { json, type RequestHandler } from '@sveltejs/kit';
import { scheduleBody } from '$lib/core/exchange/schedule-schemas';
import { readBody, requireBearer } from '$lib/server/api/requests';
import { askerOf } from '$lib/server/house/guard';
import { planSchedule } from '$lib/server/thinker/thinker';

/** Plans a bench and keeps nothing. */
export const POST: RequestHandler = async (event) => {
	const bearer = requireBearer(event, ['manager', 'technician']);
	if (bearer instanceof Response) return bearer;
	const body = await readBody(event, scheduleBody);
	if (body instanceof Response) return body;
	const { seconds, jobs, ...asked } = body;
	const request = { ...asked, jobs: jobs.map((job) => ({ ...job, due: job.due ?? null })) };
	return json(await planSchedule(request, seconds, askerOf(event.locals)));
};
