import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { PERMISSIONS } from '$lib/core/tickets/verb-roles';
import { ROLES } from '$lib/core/units/role';
import { counted, readWhole, TooLarge } from '$lib/server/http/bodies';
import { ROUTE_POLICY, rolesAt } from '$lib/server/http/route-policy';

const routes = path.resolve(import.meta.dirname, '../../src/routes');

/** Every route with what it answers to: seen as a page or by GET, sent to by an action or a method. */
function walk(folder = routes): { id: string; sees: boolean; sends: boolean }[] {
	const entries = readdirSync(folder, { withFileTypes: true });
	const below = entries
		.filter((entry) => entry.isDirectory())
		.flatMap(({ name }) => walk(path.join(folder, name)));
	const files = entries.filter((entry) => entry.isFile()).map(({ name }) => name);
	const text = (name: string) => (files.includes(name) ? readFileSync(path.join(folder, name), 'utf8') : '');
	const [server, page] = [text('+server.ts'), text('+page.server.ts')];
	if (!server && !page && !files.includes('+page.svelte')) return below;
	const id = `/${path.relative(routes, folder)}`;
	const sees =
		/export const GET\b/.test(server) || files.includes('+page.svelte') || /export const load\b/.test(page);
	const sends = /export const (POST|PUT|PATCH|DELETE)\b/.test(server) || /export const actions\b/.test(page);
	return [{ id, sees, sends }, ...below];
}

describe('route policy', () => {
	const found = walk();
	it('every route has its entry, and every entry its route', () => {
		expect(Object.keys(ROUTE_POLICY).sort()).toEqual(found.map(({ id }) => id).sort());
	});
	it.each(found.map((route) => [route.id, route] as const))(
		'%s takes what it says, and no more',
		(id, { sends }) => {
			const policy = ROUTE_POLICY[id];
			expect(policy?.send !== undefined).toBe(sends);
			expect(policy?.most !== undefined, 'what is sent has a limit').toBe(sends);
		}
	);
	it('what anybody may send is small, and what is neither a sign-in nor a large call is at most 1 MB', () => {
		for (const [id, { send, most = 0 }] of Object.entries(ROUTE_POLICY)) {
			if (send === 'anybody') expect(most, id).toBeLessThanOrEqual(8 * 1024);
			else if (!/import|traces|photos|pictures/.test(id)) expect(most, id).toBeLessThanOrEqual(1024 * 1024);
		}
	});
	it('a method that sends needs what the policy says of sending', () => {
		const policy = ROUTE_POLICY['/(app)/known-good']!;
		expect([rolesAt(policy, 'GET'), rolesAt(policy, 'POST')]).toEqual([ROLES, ['manager', 'technician']]);
		expect(rolesAt(ROUTE_POLICY['/(app)/floor']!, 'DELETE')).toBeNull();
	});
	it('CONTRIBUTING.md holds the table of changes and roles as it is', () => {
		const rows = PERMISSIONS.map(
			({ change, roles }) =>
				`| ${change} | ${ROLES.map((role) => (roles.includes(role) ? 'yes' : '')).join(' | ')} |`
		);
		const text = readFileSync(path.resolve(import.meta.dirname, '../../CONTRIBUTING.md'), 'utf8');
		const bare = (line: string) => line.replace(/\s+/g, ' ').trim();
		const lines = new Set(text.split('\n').map(bare));
		expect(rows.map(bare).filter((row) => !lines.has(row))).toEqual([]);
	});
});

describe('bodies', () => {
	const stream = (sizes: number[]) =>
		new ReadableStream<Uint8Array>({
			start(controller) {
				for (const size of sizes) controller.enqueue(new Uint8Array(size));
				controller.close();
			}
		});
	it('are counted as they come: at the limit they pass, a byte more ends them', async () => {
		expect((await readWhole(stream([600, 424]), 1024)).byteLength).toBe(1024);
		await expect(readWhole(stream([600, 425]), 1024)).rejects.toBeInstanceOf(TooLarge);
		expect((await new Response(counted(stream([600, 424]), 1024)).arrayBuffer()).byteLength).toBe(1024);
		await expect(new Response(counted(stream([600, 425]), 1024)).arrayBuffer()).rejects.toThrow();
	});
});
