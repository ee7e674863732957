import { problem } from './problem';

const PAGE = `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta http-equiv="refresh" content="3">
<meta name="viewport" content="width=device-width, initial-scale=1"><title>Database away · Tavrek</title></head>
<body><main><h1>The database is away</h1>
<p>Nothing that was confirmed is lost. This page tries again every three seconds and comes back by itself.</p>
<p>If it stays: see whether the database runs, as docs/operations.md says.</p></main></body></html>`;

/** What everyone gets while the database cannot be reached. */
export function awayPage(api: boolean): Response {
	if (api) {
		const answer = problem(503, 'Database away', 'the database cannot be reached; try again in a moment');
		answer.headers.set('retry-after', '3');
		return answer;
	}
	return new Response(PAGE, {
		status: 503,
		headers: { 'content-type': 'text/html; charset=utf-8', 'retry-after': '3', 'cache-control': 'no-store' }
	});
}
