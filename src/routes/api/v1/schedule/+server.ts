import { BENCH_ROLES } from '$lib/core/units/role';
import { json, type RequestHandler } from '@sveltejs/kit';
import { scheduleBody } from '$lib/core/exchange/schedule-schemas';
import { readBody, requireBearer } from '$lib/server/api/requests';
import { askerOf } from '$lib/server/http/guard';
import { planSchedule } from '$lib/server/worker/ask';

/** Plans a bench and keeps nothing. */
export const POST: RequestHandler = async (event) => {
	const bearer = requireBearer(event, BENCH_ROLES);
	if (bearer instanceof Response) return bearer;
	const body = await readBody(event, scheduleBody);
	if (body instanceof Response) return body;
	const { seconds, jobs, ...bench } = body;
	const request = { ...bench, jobs: jobs.map((job) => ({ ...job, due: job.due ?? null })) };
	return json(await planSchedule(request, seconds, askerOf(event.locals)));
};
