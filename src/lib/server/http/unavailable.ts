import { isDatabaseAway } from '../database/connection';
import { problem } from './problem';

/** Why an answer is not to be had now, and when to ask again. */
export interface Unavailable {
	title: string;
	detail: string;
	retrySeconds: number;
	/** 503 where it is not said */
	status?: number;
}

const AWAY: Unavailable = {
	title: 'Database away',
	detail: 'the database cannot be reached; nothing confirmed is lost, try again in a moment',
	retrySeconds: 3
};

const FULL: Unavailable = {
	title: 'Disk full',
	detail:
		'the disk of the shop’s server is full; nothing of this was kept. Make room on it (docs/operations.md), then send it again',
	retrySeconds: 60,
	// RFC 4918, 11.5
	status: 507
};
const FULL_CODES = ['ENOSPC', 'EDQUOT', 'ER_DISK_FULL', 'ER_RECORD_FILE_FULL', 'ER_ERROR_ON_WRITE'];

/** What an error says of now rather than of the request; null where it is an error like any other. */
export function unavailableBy(error: unknown): Unavailable | null {
	if (isDatabaseAway(error)) return AWAY;
	const { code, message } = (error ?? {}) as { code?: unknown; message?: unknown };
	if (FULL_CODES.includes(String(code))) return FULL;
	const detail = String(message);
	if (code === 'TAVREK_BUSY') return { title: 'Busy', detail, retrySeconds: 30 };
	if (code === 'TAVREK_TOO_LONG') return { title: 'Took too long', detail, retrySeconds: 60 };
	// whoever asked is gone, or the server ends
	if (code === 'TAVREK_STOPPED' || (error instanceof Error && error.name === 'AbortError'))
		return { title: 'Stopped', detail: 'it was stopped before its end; ask again', retrySeconds: 3 };
	return null;
}

const escaped = (text: string) => text.replace(/[&<>]/g, (sign) => `&#${sign.charCodeAt(0)};`);

const page = ({ title, detail, retrySeconds }: Unavailable) => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta http-equiv="refresh" content="${retrySeconds}">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>${escaped(title)} · Tavrek</title></head>
<body><main><h1>${title === AWAY.title ? 'The database is away' : escaped(title)}</h1>
<p>${escaped(detail[0]?.toUpperCase() ?? '')}${escaped(detail.slice(1))}.</p>
<p>Nothing that was confirmed is lost. This page tries again every ${retrySeconds} seconds and comes back by itself.</p>
${title === AWAY.title ? '<p>If it stays: see whether the database runs, as docs/operations.md says.</p>' : ''}</main></body></html>`;

/** What everyone gets while an answer is not to be had. */
export function unavailableAnswer(cause: Unavailable, api: boolean): Response {
	const answer = api
		? problem(cause.status ?? 503, cause.title, cause.detail)
		: new Response(page(cause), {
				status: cause.status ?? 503,
				headers: { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' }
			});
	answer.headers.set('retry-after', String(cause.retrySeconds));
	return answer;
}
