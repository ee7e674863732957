import { error, type RequestHandler } from '@sveltejs/kit';
import { z } from 'zod';
import { codeSchema } from '$lib/core/units/code';
import { database } from '$lib/server/database/connection';
import { shopCatalog } from '$lib/server/memory/shop-memory';
import { requireUser } from '$lib/server/http/guard';
import { instruments } from '$lib/server/instruments/instruments';

const query = z.object({
	model: codeSchema,
	faults: z
		.string()
		.default('')
		.transform((text) => text.split(' ').filter(Boolean))
		.pipe(z.array(codeSchema).max(5)),
	pins: z
		.string()
		.default('')
		.transform((text) => text.split(' ').filter(Boolean))
		.pipe(z.array(z.string().max(16)).max(200)),
	seed: z.coerce.number().int().min(0).max(4_294_967_295).default(1),
	loseAfter: z.coerce.number().int().min(1).optional()
});

/** An instrument's samples as server-sent events, until it ends, is lost or the screen goes away. */
export const GET: RequestHandler = async ({ locals, params, url }) => {
	requireUser(locals);
	const instrument = instruments().find(({ id }) => id === params.id);
	if (!instrument)
		error(404, 'There is no such instrument here. Reload the page to see which are connected.');
	const queryParams = query.safeParse(Object.fromEntries(url.searchParams));
	if (!queryParams.success)
		error(422, `${queryParams.error.issues[0]?.path.join('.')}: ${queryParams.error.issues[0]?.message}`);
	const catalog = await shopCatalog(await database());
	const stop = new AbortController();
	const samples = instrument.open(
		{ ...queryParams.data, catalog, loseAfter: queryParams.data.loseAfter ?? null },
		stop.signal
	);
	const encoder = new TextEncoder();
	const event = (name: string, data: unknown) =>
		encoder.encode(`event: ${name}\ndata: ${JSON.stringify(data)}\n\n`);
	const body = new ReadableStream<Uint8Array>({
		async pull(controller) {
			try {
				const { done: finished, value } = await samples.next();
				controller.enqueue(finished ? event('end', {}) : event('sample', value));
				if (finished) controller.close();
			} catch {
				controller.enqueue(event('lost', {}));
				controller.close();
			}
		},
		cancel: () => stop.abort()
	});
	return new Response(body, {
		headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' }
	});
};
