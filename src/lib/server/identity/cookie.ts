import type { RequestEvent } from '@sveltejs/kit';

export const SESSION_COOKIE = 'tavrek_session';

export function setSessionCookie(event: RequestEvent, token: string): void {
	event.cookies.set(SESSION_COOKIE, token, {
		path: '/',
		httpOnly: true,
		sameSite: 'lax',
		secure: event.url.protocol === 'https:',
		maxAge: 7 * 24 * 3600
	});
}

export function clearSessionCookie(event: RequestEvent): void {
	event.cookies.delete(SESSION_COOKIE, { path: '/', secure: event.url.protocol === 'https:' });
}
