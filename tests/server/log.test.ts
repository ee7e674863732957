import { expect, it, vi } from 'vitest';
import type { RequestEvent } from '@sveltejs/kit';
import { log } from '$lib/server/logging/log';
import { handleError } from '../../src/hooks.server';

it('a line of the log names a route by its pattern: no seal, no secret, no number', async () => {
	const lines: unknown[] = [];
	for (const level of ['error', 'warn'] as const)
		vi.spyOn(log, level).mockImplementation((...said: unknown[]) => void lines.push(said));
	const secret = 'Zm9vYmFyYmF6cXV4cXV1eA';
	for (const [id, path] of [
		['/mine/[number]/[seal]', `/mine/K-00231/${secret}`],
		['/calendar/[secret]', `/calendar/${secret}.ics`]
	] as const) {
		const event = {
			url: new URL(`http://shop.example${path}`),
			route: { id },
			locals: {}
		} as unknown as RequestEvent;
		for (const error of [new Error('broke'), Object.assign(new Error('gone'), { code: 'ECONNREFUSED' })])
			await handleError({ error, event, status: 500, message: '' });
	}
	vi.restoreAllMocks();
	expect(lines).toHaveLength(4);
	expect(JSON.stringify(lines)).not.toMatch(new RegExp(`${secret}|K-00231`));
	expect(JSON.stringify(lines)).toContain('/mine/[number]/[seal]');
});
