import { json, type RequestHandler } from '@sveltejs/kit';
import { openApiDocument } from '$lib/core/exchange/openapi';

/** Open to all: it tells what the API offers, nothing of the shop. */
export const GET: RequestHandler = () => json(openApiDocument());
