import { randomUUID } from 'node:crypto';
import type { Handle, HandleServerError, ServerInit } from '@sveltejs/kit';
import { redirect } from '@sveltejs/kit';
import { closeDatabase, database, isDatabaseAway } from '$lib/server/database/connection';
import { fillDemoShop } from '$lib/server/house/demo';
import { awayPage } from '$lib/server/house/away-page';
import { log } from '$lib/server/house/log';
import { problem } from '$lib/server/house/problem';
import { readBearer } from '$lib/server/identity/api-tokens';
import { clearSessionCookie, SESSION_COOKIE, setSessionCookie } from '$lib/server/identity/cookie';
import { readSession } from '$lib/server/identity/sessions';
import { stopThinking } from '$lib/server/thinker/thinker';

export const init: ServerInit = async () => {
	process.once('sveltekit:shutdown', () => void stopThinking().then(closeDatabase));
	try {
		const db = await database();
		if (process.env.TAVREK_DEMO === '1') await fillDemoShop(db, Date.now());
	} catch (error) {
		if (!isDatabaseAway(error)) throw error;
		log.warn('the database is away at start; it is tried again at each request');
	}
};

/** Pages that a visitor sees before signing in. */
const OPEN = new Set(['/sign-in', '/first-visit']);

export const handle: Handle = async ({ event, resolve }) => {
	event.locals.user = null;
	event.locals.bearer = null;
	event.locals.theme = event.cookies.get('tavrek_theme') === 'lamp' ? 'lamp' : 'daylight';
	const api = event.url.pathname.startsWith('/api/');
	if (foreignOrigin(event.request)) {
		return api
			? problem(403, 'Foreign origin', 'the request comes from another site')
			: new Response('The request comes from another site.', { status: 403 });
	}
	try {
		const db = await database();
		if (api) {
			const bearer = /^Bearer (.+)$/.exec(event.request.headers.get('authorization') ?? '');
			event.locals.bearer = bearer?.[1] ? await readBearer(db, bearer[1]) : null;
		} else {
			const token = event.cookies.get(SESSION_COOKIE);
			const session = token ? await readSession(db, Date.now(), token) : null;
			event.locals.user = session?.user ?? null;
			if (session?.newToken) setSessionCookie(event, session.newToken);
			if (token && !session) clearSessionCookie(event);
		}
	} catch (error) {
		if (isDatabaseAway(error)) return awayPage(api);
		throw error;
	}
	if (!api && !event.locals.user && !OPEN.has(event.url.pathname)) {
		if (event.request.method !== 'GET') {
			return new Response(
				JSON.stringify({ message: 'Your session has ended. Sign in in another tab, then send again.' }),
				{
					status: 401,
					headers: { 'content-type': 'application/json' }
				}
			);
		}
		const to = event.url.pathname === '/' ? '' : `?to=${encodeURIComponent(event.url.pathname)}`;
		redirect(303, `/sign-in${to}`);
	}
	const response = await resolve(event, {
		transformPageChunk: ({ html }) => html.replace('%tavrek.theme%', event.locals.theme)
	});
	response.headers.set('x-content-type-options', 'nosniff');
	response.headers.set('referrer-policy', 'same-origin');
	response.headers.set('x-frame-options', 'DENY');
	if (!event.url.pathname.startsWith('/_app/')) response.headers.set('cache-control', 'no-store');
	return response;
};

/** A write that a browser sends for another site's page: its Origin is not the host that was asked. */
function foreignOrigin(request: Request): boolean {
	const origin = request.headers.get('origin');
	if (['GET', 'HEAD', 'OPTIONS'].includes(request.method) || origin === null) return false;
	try {
		return new URL(origin).host !== request.headers.get('host');
	} catch {
		return true;
	}
}

export const handleError: HandleServerError = ({ error, event, status }) => {
	if (status === 404) return { message: 'There is nothing at this address.' };
	const id = randomUUID().slice(0, 8);
	const { name, message, stack } =
		error instanceof Error ? error : { name: 'unknown', message: String(error), stack: '' };
	log.error({ id, path: event.url.pathname, name, message, stack });
	return isDatabaseAway(error)
		? { message: 'The database is away. Nothing confirmed is lost; try again in a moment.', id }
		: { message: 'Something went wrong here. Nothing was saved by this step; try it again.', id };
};
