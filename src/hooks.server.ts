import { randomUUID } from 'node:crypto';
import process from 'node:process';
import type { Handle, HandleServerError, RequestEvent, ServerInit } from '@sveltejs/kit';
import { noteRefusal } from '$lib/server/audit/commands';
import { closeDatabase, database, isDatabaseAway } from '$lib/server/database/connection';
import { fillDemoShop } from '$lib/server/opening/demo';
import { bytesWords, counted, drained, readWhole, TooLarge } from '$lib/server/http/bodies';
import { whileInFlight } from '$lib/server/http/in-flight';
import { noteSent } from '$lib/server/http/own-changes';
import { ROUTE_POLICY, READ_WHOLE, rolesAt, type RoutePolicy } from '$lib/server/http/route-policy';
import { log } from '$lib/server/logging/log';
import { notSignedIn, problem } from '$lib/server/http/problem';
import { unavailableAnswer, unavailableBy, type Unavailable } from '$lib/server/http/unavailable';
import { readBearer, refuseShortToken } from '$lib/server/identity/api-tokens';
import {
	clearSessionCookie,
	sessionCookie,
	sessionHeader,
	setSessionCookie
} from '$lib/server/identity/cookie';
import { readSession } from '$lib/server/identity/sessions';
import { keepSending, stopMessages } from '$lib/server/messages/sender';
import { stopWorkers, workAhead } from '$lib/server/worker/ask';

export const init: ServerInit = async () => {
	refuseShortToken();
	process.once('sveltekit:shutdown', () => {
		stopMessages();
		void stopWorkers().then(closeDatabase);
	});
	try {
		const db = await database();
		if (process.env.TAVREK_DEMO === '1') await fillDemoShop(db, Date.now());
	} catch (error) {
		if (!isDatabaseAway(error)) throw error;
		log.warn('the database is away at start; it is tried again at each request');
	}
	keepSending();
	void workAhead();
};

/** Every answer, redirects and refusals too, carries the same headers. */
export const handle: Handle = async ({ event, resolve }) => {
	const { body } = event.request;
	let ownAnswer = true;
	const response = await whileInFlight(() =>
		answer(event, (...page) => {
			ownAnswer = false;
			return resolve(...page);
		})
	);
	if (response.status >= 400) await drained(body);
	else if (sends(event) && event.locals.user) noteSent(event.locals.user.signIn, Date.now());
	// a session's new token must reach the browser with a refusal or a redirect too: the old one ends in a minute
	if (ownAnswer && event.locals.newToken) {
		response.headers.append('set-cookie', sessionHeader(event, event.locals.newToken));
	}
	return withHeaders(event, response);
};

type Resolve = Parameters<Handle>[0]['resolve'];
const isApi = (event: RequestEvent) => /^\/api(\/|$)/.test(event.url.pathname);
const sends = ({ request }: RequestEvent) => !['GET', 'HEAD', 'OPTIONS'].includes(request.method);

async function answer(event: RequestEvent, resolve: Resolve): Promise<Response> {
	event.locals.user = null;
	event.locals.bearer = null;
	event.locals.unavailable = null;
	event.locals.gone = event.platform?.req?.gone ?? event.request.signal;
	event.locals.newToken = null;
	event.locals.language = 'en';
	event.locals.theme = event.cookies.get('tavrek_theme') === 'lamp' ? 'lamp' : 'daylight';
	const api = isApi(event);
	if (foreignOrigin(event.request)) {
		return refused(event, 403, 'Foreign origin', 'the request comes from another site');
	}
	const policy = event.route.id === null ? null : (ROUTE_POLICY[event.route.id] ?? null);
	if (event.route.id === null && api)
		return problem(404, 'No such call', `there is no ${event.url.pathname}`);
	// whether the process lives does not depend on the database
	if (event.route.id === '/health/live') return resolve(event);
	try {
		await knowWho(event, api);
	} catch (error) {
		const cause = unavailableBy(error);
		if (cause) return unavailable(event, cause);
		throw error;
	}
	if (event.route.id !== null) {
		if (!policy) return refused(event, 403, 'Closed', 'this route has no entry in the route policy');
		const shut = await enforcePolicy(event, policy, api);
		if (shut) return shut;
	} else if (!event.locals.user) return toSignIn(event);
	const large = await limitBody(event, policy?.most ?? 8 * 1024);
	if (large) return large;
	const response = await resolve(event, {
		transformPageChunk: ({ html }) =>
			html.replace('%tavrek.theme%', event.locals.theme).replace('%tavrek.language%', event.locals.language)
	});
	if (event.locals.unavailable) return unavailable(event, event.locals.unavailable);
	return api ? asProblem(response) : response;
}

/** What everyone gets where nothing can be answered now; a form under way in words that it understands. */
function unavailable(event: RequestEvent, cause: Unavailable): Response {
	const asks = event.request.headers;
	const page = !sends(event) && !event.isDataRequest && !/json/.test(asks.get('accept') ?? '');
	if (isApi(event) || page) return unavailableAnswer(cause, isApi(event));
	return refused(event, cause.status ?? 503, cause.title, cause.detail);
}

async function knowWho(event: RequestEvent, api: boolean): Promise<void> {
	const db = await database();
	if (api) {
		const bearer = /^Bearer (\S{1,500})$/.exec(event.request.headers.get('authorization') ?? '');
		event.locals.bearer = bearer?.[1] ? await readBearer(db, bearer[1]) : null;
		return;
	}
	const token = event.cookies.get(sessionCookie());
	const session = token ? await readSession(db, Date.now(), token) : null;
	event.locals.user = session?.user ?? null;
	event.locals.newToken = session?.newToken ?? null;
	if (session?.newToken) setSessionCookie(event, session.newToken);
	if (token && !session) clearSessionCookie(event);
}

/** Who may pass here; the refusal where somebody may not. */
async function enforcePolicy(
	event: RequestEvent,
	policy: RoutePolicy,
	api: boolean
): Promise<Response | null> {
	const roles = rolesAt(policy, event.request.method);
	if (roles === 'anybody') return null;
	if (roles === null || (roles.length === 0 && !sends(event))) {
		const answer = refused(event, 405, 'Not this way', `${event.request.method} is not taken here`);
		answer.headers.set('allow', sends(event) ? 'GET' : 'POST');
		return answer;
	}
	const { user, bearer } = event.locals;
	const caller = api ? bearer : user;
	if (!caller) return api ? notSignedIn() : toSignIn(event);
	if (user?.mustChange && event.route.id !== '/(app)/account') return elsewhere(event, '/account');
	if (roles.includes(caller.role)) return null;
	await noteRefusal(await database(), Date.now(), caller.name, `${event.request.method} ${event.route.id}`);
	return refused(
		event,
		403,
		'Not allowed',
		`this is for the ${roles.join(' or ')}; yours is the ${caller.role}'s`
	);
}

function toSignIn(event: RequestEvent): Response {
	if (sends(event)) {
		return Response.json(
			{ message: 'Your session has ended. Sign in in another tab, then send again.' },
			{ status: 401 }
		);
	}
	const { pathname } = event.url;
	return elsewhere(event, `/sign-in${pathname === '/' ? '' : `?to=${encodeURIComponent(pathname)}`}`);
}

/** Another page first: as a redirect, or in the words that a page under way understands. */
function elsewhere(event: RequestEvent, location: string): Response {
	if (event.isDataRequest) return Response.json({ type: 'redirect', location });
	return new Response(null, { status: 303, headers: { location } });
}

/** Counts a body against the limit of its route before anything reads it. */
async function limitBody(event: RequestEvent, maxBytes: number): Promise<Response | null> {
	const { request } = event;
	if (!sends(event)) return null;
	if (request.body === null) return namelessBody(event);
	try {
		if (Number(request.headers.get('content-length') ?? 0) > maxBytes) throw new TooLarge(maxBytes);
		const body =
			maxBytes > READ_WHOLE ? counted(request.body, maxBytes) : await readWhole(request.body, maxBytes);
		const { method, headers, signal } = request;
		event.request = new Request(request.url, {
			method,
			headers,
			body,
			signal,
			duplex: 'half'
		} as RequestInit);
		return null;
	} catch (error) {
		if (!(error instanceof TooLarge)) throw error;
		return refused(event, 413, 'Too large', `this takes ${bytesWords(maxBytes)} at most; send less`);
	}
}

/** The server hands a body on only where its content type is said: what would be lost in silence is refused. */
function namelessBody(event: RequestEvent): Response | null {
	const { headers } = event.request;
	const sent = Number(headers.get('content-length') ?? 0) > 0 || headers.has('transfer-encoding');
	if (!sent || headers.has('content-type')) return null;
	return refused(
		event,
		415,
		'Kind of body not said',
		'send a content-type, such as application/json or application/x-ndjson'
	);
}

/** A refusal in the words of who asked: a program, a page under way, a person. */
function refused(event: RequestEvent, status: number, title: string, detail: string): Response {
	if (isApi(event)) return problem(status, title, detail);
	const message = `${detail[0]?.toUpperCase()}${detail.slice(1)}.`;
	const json = event.isDataRequest || /json/.test(event.request.headers.get('accept') ?? '');
	const action = event.request.headers.has('x-sveltekit-action') || event.url.search.startsWith('?/');
	if (action && json) {
		return Response.json({ type: 'error', status, error: { message } }, { status });
	}
	if (json) return Response.json({ message }, { status });
	return new Response(`<!doctype html><title>${title}</title><p>${message}</p>`, {
		status,
		headers: { 'content-type': 'text/html; charset=utf-8' }
	});
}

/** Whatever the API answers with an error is a problem document. */
async function asProblem(response: Response): Promise<Response> {
	if (response.status < 400 || response.headers.get('content-type')?.startsWith('application/problem+json')) {
		return response;
	}
	const text = await response.text();
	let detail = text.slice(0, 300) || 'the call was refused';
	try {
		detail = (JSON.parse(text) as { message?: string }).message ?? detail;
	} catch {
		// plain words
	}
	const title =
		response.status >= 500 ? 'Failed here' : response.status === 404 ? 'No such thing' : 'Refused';
	return problem(response.status, title, detail);
}

const HEADERS = {
	'x-content-type-options': 'nosniff',
	'referrer-policy': 'same-origin',
	'x-frame-options': 'DENY',
	'cross-origin-opener-policy': 'same-origin',
	'cross-origin-resource-policy': 'same-origin',
	'permissions-policy': 'camera=(self), microphone=(), geolocation=(), payment=()'
} as const;

function withHeaders(event: RequestEvent, response: Response): Response {
	for (const [name, value] of Object.entries(HEADERS)) response.headers.set(name, value);
	if (!response.headers.has('content-security-policy')) {
		response.headers.set('content-security-policy', "default-src 'none'; frame-ancestors 'none'");
	}
	if (event.url.protocol === 'https:') {
		response.headers.set('strict-transport-security', 'max-age=31536000');
	}
	if (!event.url.pathname.startsWith('/_app/')) response.headers.set('cache-control', 'no-store');
	return response;
}

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
	if (error instanceof TooLarge) {
		return { message: `This takes ${bytesWords(error.maxBytes)} at most. Nothing was saved; send less.` };
	}
	if (status === 404) return { message: 'There is nothing at this address.' };
	if (status < 500) return { message: 'The request could not be read; nothing was saved. Reload the page.' };
	const id = randomUUID().slice(0, 8);
	const { name, message, stack } =
		error instanceof Error ? error : { name: 'unknown', message: String(error), stack: '' };
	const cause = unavailableBy(error);
	event.locals.unavailable = cause;
	const path = event.route.id;
	if (cause) log.warn({ id, path, name, message }, cause.title);
	else log.error({ id, path, name, message, stack });
	return cause
		? { message: `${cause.detail[0]?.toUpperCase()}${cause.detail.slice(1)}.`, id }
		: { message: 'Something went wrong here. Nothing was saved by this step; try it again.', id };
};
