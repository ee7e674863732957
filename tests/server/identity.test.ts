import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { HOUR_MS, MINUTE_MS } from '$lib/core/units/instant';
import type { Database } from '$lib/server/database/connection';
import { migrate } from '$lib/server/database/migrate';
import { makeApiToken, readBearer, revokeApiToken, listApiTokens } from '$lib/server/identity/api-tokens';
import { endSession, readSession, signIn } from '$lib/server/identity/sessions';
import { addUser, listUsers, makeFirstManager, setUserActive } from '$lib/server/identity/users';
import { freshDatabase } from './fresh-database';

const NOW = Date.UTC(2026, 10, 24, 10);
const password = 'a good long one';
let db: Database;
beforeAll(async () => {
	db = await freshDatabase();
});
afterAll(() => db.destroy());
const enter = (secret: string, now = NOW, address = '10.0.0.1', name = 'odile') =>
	signIn(db, now, { signIn: name, password: secret, address });
async function tokenAt(now: number): Promise<string> {
	const answer = await enter(password, now);
	if (!answer.ok) throw new Error(answer.message);
	return answer.token;
}

describe('accounts', () => {
	it('the first visit makes the manager, and only the first, even of two at once', async () => {
		const user = { signIn: 'odile', name: 'Odile', password };
		const answers = await Promise.all([
			makeFirstManager(db, NOW, user),
			makeFirstManager(db, NOW, { ...user, signIn: 'eve' })
		]);
		expect(answers.filter(({ ok }) => ok)).toHaveLength(1);
		await db('users').update({ sign_in: 'odile', name: 'Odile' });
	});
	it('keep no password that could be read', async () => {
		const row = await db('users').first('password_hash');
		expect(row.password_hash).toMatch(/^\$argon2id\$/);
	});
	it('refuses a sign-in name that is taken', async () => {
		const user = { signIn: 'pia', name: 'Pia', role: 'counter' as const, technician: null, password };
		expect(await addUser(db, 'Odile', NOW, user)).toEqual({ ok: true });
		expect(await addUser(db, 'Odile', NOW, user)).toMatchObject({ ok: false, field: 'signIn' });
	});
	it('the last manager stays; who is shut out is out at once', async () => {
		const [manager, counter] = await listUsers(db);
		if (!manager || !counter) throw new Error('missing');
		expect(await setUserActive(db, 'Odile', NOW, { ...manager, active: false })).toMatchObject({ ok: false });
		const answer = await enter(password, NOW, '10.0.0.2', 'pia');
		if (!answer.ok) throw new Error(answer.message);
		expect((await readSession(db, NOW, answer.token))?.user.name).toBe('Pia');
		expect(await setUserActive(db, 'Odile', NOW, { ...counter, active: false })).toEqual({ ok: true });
		expect(await readSession(db, NOW, answer.token)).toBeNull();
		expect((await enter(password, NOW, '10.0.0.2', 'pia')).ok).toBe(false);
		expect(await setUserActive(db, 'Odile', NOW, { ...counter, active: true })).toMatchObject({
			field: 'version'
		});
	});
});

describe('sessions', () => {
	it('open with the right password only, and end on signing out', async () => {
		expect(await enter('wrong password')).toMatchObject({ ok: false, field: 'password' });
		const token = await tokenAt(NOW);
		expect((await readSession(db, NOW, token))?.user.signIn).toBe('odile');
		expect(await readSession(db, NOW, `${token}x`)).toBeNull();
		await endSession(db, token);
		expect(await readSession(db, NOW, token)).toBeNull();
	});
	it('the store holds no token', async () => {
		const token = await tokenAt(NOW);
		expect(JSON.stringify(await db('sessions'))).not.toContain(token);
	});
	it('change their token every hour; the old one opens for a minute more', async () => {
		const token = await tokenAt(NOW);
		const later = NOW + HOUR_MS + 1000;
		const read = await readSession(db, later, token);
		expect(read?.newToken).toBeTruthy();
		expect((await readSession(db, later + 1000, token))?.user.signIn).toBe('odile');
		expect(await readSession(db, later + 2 * MINUTE_MS, token)).toBeNull();
		expect((await readSession(db, later + 2 * MINUTE_MS, read?.newToken as string))?.newToken).toBeNull();
	});
	it('end after half a day without a sign of life', async () => {
		const token = await tokenAt(NOW);
		expect(await readSession(db, NOW + 12 * HOUR_MS + 1, token)).toBeNull();
	});
	it('attempts are limited by name and address, and free again after a quarter of an hour', async () => {
		for (let i = 0; i < 6; i++) expect((await enter('wrong', NOW, '10.9.9.9')).ok).toBe(false);
		expect(await enter(password, NOW, '10.9.9.9')).toMatchObject({
			ok: false,
			message: expect.stringContaining('too many')
		});
		expect((await enter(password, NOW, '10.9.9.8')).ok).toBe(true);
		expect((await enter(password, NOW + 16 * MINUTE_MS, '10.9.9.9')).ok).toBe(true);
	});
});

describe('API tokens', () => {
	it('work until they are revoked, with their role, and are stored as a hash', async () => {
		const token = await makeApiToken(db, 'Odile', NOW, { label: 'till', role: 'counter' });
		expect(await readBearer(db, token)).toEqual({ name: 'API token till', role: 'counter' });
		expect(JSON.stringify(await db('api_tokens'))).not.toContain(token);
		const [{ id } = { id: 0 }] = await listApiTokens(db);
		await revokeApiToken(db, 'Odile', NOW, id);
		expect(await readBearer(db, token)).toBeNull();
	});
	it('the one of the start has manager rights where it is set', async () => {
		expect(await readBearer(db, 'from-the-start')).toBeNull();
		process.env.TAVREK_API_TOKEN = 'from-the-start';
		expect(await readBearer(db, 'from-the-start')).toMatchObject({ role: 'manager' });
		delete process.env.TAVREK_API_TOKEN;
	});
});

describe('migrations', () => {
	it('can be run again and by several at once', async () => {
		await expect(Promise.all([migrate(db), migrate(db), migrate(db)])).resolves.toHaveLength(3);
	});
	it('recover from a process that was killed in the middle', async () => {
		await db('knex_migrations_lock').update({ is_locked: 1 });
		await db('knex_migrations').delete();
		await migrate(db);
		expect(await listUsers(db)).toHaveLength(2);
	});
});
