import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { actorOf, requireUser } from '$lib/server/http/guard';
import { firstRefusal, readJson } from '$lib/server/http/read-json';
import { takeIn, takeInBody } from '$lib/server/tickets/take-in';

export const POST: RequestHandler = async ({ locals, request }) => {
	const user = requireUser(locals);
	const parsed = await readJson(request, takeInBody);
	if (!parsed.ok) return json({ ok: false, refusal: firstRefusal(parsed.errors) }, { status: 422 });
	const answer = await takeIn(await database(), actorOf(user), Date.now(), parsed.value);
	return json(answer, { status: answer.ok ? 200 : 422 });
};
