/** A kept picture as it is answered with. */
export const photoResponse = (data: Buffer<ArrayBuffer>): Response =>
	new Response(data, {
		headers: {
			'content-type': 'image/jpeg',
			// what a hash names never changes; it is not for others than who is signed in
			'cache-control': 'private, max-age=86400, immutable'
		}
	});
