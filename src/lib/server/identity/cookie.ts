import process from 'node:process';
import type { RequestEvent } from '@sveltejs/kit';

/** Cookies of one host are shared by all its ports: the port in the name keeps two shops on one machine apart. */
const own = (name: string) => `tavrek_${name}_${process.env.PORT ?? 'dev'}`;
export const sessionCookie = () => own('session');
export const deviceCookie = () => own('device');

const WEEK_SECONDS = 7 * 24 * 3600;
const YEAR_SECONDS = 365 * 24 * 3600;

function setCookie(event: RequestEvent, name: string, value: string, maxAge: number): void {
	event.cookies.set(name, value, {
		path: '/',
		httpOnly: true,
		sameSite: 'lax',
		secure: event.url.protocol === 'https:',
		maxAge
	});
}

export const setSessionCookie = (event: RequestEvent, token: string) =>
	setCookie(event, sessionCookie(), token, WEEK_SECONDS);
export const setDeviceCookie = (event: RequestEvent, device: string) =>
	setCookie(event, deviceCookie(), device, YEAR_SECONDS);

export function clearSessionCookie(event: RequestEvent): void {
	event.cookies.delete(sessionCookie(), { path: '/', secure: event.url.protocol === 'https:' });
}
