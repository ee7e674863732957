import { json, type RequestHandler } from '@sveltejs/kit';
import { describeIssue } from '$lib/core/exchange/read-lines';
import { database } from '$lib/server/database/connection';
import { actorOf, requireUser } from '$lib/server/house/guard';
import { takeIn, takeInBody } from '$lib/server/tickets/commands';

export const POST: RequestHandler = async ({ locals, request }) => {
	const user = requireUser(locals);
	const parsed = takeInBody.safeParse(await request.json().catch(() => null));
	if (!parsed.success) {
		const { path, message } = describeIssue(parsed.error.issues[0]!);
		return json({ ok: false, refusal: { field: path, message } }, { status: 422 });
	}
	const answer = await takeIn(await database(), actorOf(user), Date.now(), parsed.data);
	return json(answer, { status: answer.ok ? 200 : 422 });
};
