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
