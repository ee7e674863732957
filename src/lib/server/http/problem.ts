/** An error answer of the API: RFC 9457, `application/problem+json`. */
export function problem(
	status: number,
	title: string,
	detail: string,
	errors?: readonly { line?: number; path: string; message: string }[]
): Response {
	const type = `urn:tavrek:problem:${title.toLowerCase().replace(/[^a-z]+/g, '-')}`;
	return new Response(JSON.stringify({ type, title, status, detail, ...(errors ? { errors } : {}) }), {
		status,
		headers: { 'content-type': 'application/problem+json', 'cache-control': 'no-store' }
	});
}

/** The refusal of a call without a good token. */
export function notSignedIn(): Response {
	const answer = problem(
		401,
		'Not signed in',
		'send "Authorization: Bearer TOKEN"; a manager makes tokens in Settings'
	);
	answer.headers.set('www-authenticate', 'Bearer');
	return answer;
}
