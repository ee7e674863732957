import { json, type RequestHandler } from '@sveltejs/kit';

/** The process lives and answers. */
export const GET: RequestHandler = () => json({ live: true });
