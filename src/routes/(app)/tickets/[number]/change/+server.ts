import { json, type RequestHandler } from '@sveltejs/kit';
import { taughtBy } from '$lib/core/tickets/taught';
import { database } from '$lib/server/database/connection';
import { actorOf, requireUser } from '$lib/server/http/guard';
import { firstRefusal, readJson } from '$lib/server/http/read-json';
import { keepPredictionsUp } from '$lib/server/worker/ask';
import { changeBody, changeTicket } from '$lib/server/tickets/change-ticket';
import { ticketView, viewSlices } from '$lib/server/tickets/view';

/**
 * One change of a ticket. Answers with what it made of the screen: the ticket's changed slices, odds and next step. Where the
 * screen is behind, with the whole view.
 */
export const POST: RequestHandler = async ({ locals, params, request }) => {
	const user = requireUser(locals);
	const parsed = await readJson(request, changeBody);
	if (!parsed.ok) {
		return json({ ok: false, code: 'refused', refusal: firstRefusal(parsed.errors) }, { status: 422 });
	}
	const db = await database();
	const now = Date.now();
	const number = params.number ?? '';
	const answer = await changeTicket(db, actorOf(user), now, number, parsed.value);
	if (!answer.ok && answer.code === 'missing') return json(answer, { status: 404 });
	if (!answer.ok && answer.code === 'not-yours') return json(answer, { status: 403 });
	if (!answer.ok && answer.code === 'refused') return json(answer, { status: 422 });
	if (!answer.ok || answer.repeated) {
		const view = await ticketView(db, number, user.role, now);
		return json({ ...answer, view }, { status: answer.ok ? 200 : 409 });
	}
	const { previous, stored, version } = answer;
	if (taughtBy(previous) !== taughtBy(stored.ticket)) void keepPredictionsUp(db);
	const slices = await viewSlices(db, answer, parsed.value.change.verb, user.role, now);
	return json({ ok: true, version, slices });
};
