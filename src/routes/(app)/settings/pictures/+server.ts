import { json, type RequestHandler } from '@sveltejs/kit';
import { database } from '$lib/server/database/connection';
import { pictureArchive, takePictures } from '$lib/server/exchange/picture-archive';
import { requireUser } from '$lib/server/http/guard';

/** All pictures as one ZIP, beside the export of everything else. */
export const GET: RequestHandler = async ({ locals }) => {
	const { name } = requireUser(locals, ['manager']);
	return new Response(await pictureArchive(await database(), name, Date.now()), {
		headers: {
			'content-type': 'application/zip',
			'content-disposition': 'attachment; filename="tavrek-pictures.zip"',
			'cache-control': 'private, no-store'
		}
	});
};

/** Takes pictures of such a ZIP back. */
export const POST: RequestHandler = async ({ locals, request }) => {
	const { name } = requireUser(locals, ['manager']);
	if (!request.body) return json({ problem: 'No file came; choose one.' }, { status: 422 });
	const answer = await takePictures(await database(), name, Date.now(), request.body);
	return json(answer, { status: 'problem' in answer ? 422 : 200 });
};
