import process from 'node:process';
import type { RequestEvent } from '@sveltejs/kit';

/** Cookies of one host are shared by all its ports: the port in the name keeps two shops on one machine apart. */
const cookieName = (name: string) => `tavrek_${name}_${process.env.PORT ?? 'dev'}`;
export const sessionCookie = () => cookieName('session');
export const deviceCookie = () => cookieName('device');

const WEEK_SECONDS = 7 * 24 * 3600;
const YEAR_SECONDS = 365 * 24 * 3600;

const options = (event: RequestEvent, maxAge: number) =>
	({ path: '/', httpOnly: true, sameSite: 'lax', secure: event.url.protocol === 'https:', maxAge }) as const;

function setCookie(event: RequestEvent, name: string, value: string, maxAge: number): void {
	event.cookies.set(name, value, options(event, maxAge));
}

/** The session's cookie as a header, for an answer that does not come from a page. */
export const sessionHeader = (event: RequestEvent, token: string): string =>
	event.cookies.serialize(sessionCookie(), token, options(event, WEEK_SECONDS));

export const setSessionCookie = (event: RequestEvent, token: string) =>
	setCookie(event, sessionCookie(), token, WEEK_SECONDS);
export const setDeviceCookie = (event: RequestEvent, device: string) =>
	setCookie(event, deviceCookie(), device, YEAR_SECONDS);

export function clearSessionCookie(event: RequestEvent): void {
	event.cookies.delete(sessionCookie(), { path: '/', secure: event.url.protocol === 'https:' });
}
