import { createHash } from 'node:crypto';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { HOUR_MS, MINUTE_MS } from '$lib/core/units/instant';
import type { Database } from '$lib/server/database/connection';
import { migrate } from '$lib/server/database/migrate';
import {
	listApiTokens,
	makeApiToken,
	readBearer,
	refuseShortToken,
	revokeApiToken
} from '$lib/server/identity/api-tokens';
import { networkOf } from '$lib/server/identity/attempts';
import { passwordSchema } from '$lib/server/identity/passwords';
import { endSession, readSession, signIn } from '$lib/server/identity/sessions';
import {
	addUser,
	changeOwnPassword,
	listUsers,
	makeFirstManager,
	resetPassword,
	setUserActive
} from '$lib/server/identity/users';
import { freshDatabase, freshDatabaseUrl } from './fresh-database';

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
		expect(row?.password_hash).toMatch(/^\$argon2id\$/);
	});
	it('refuses a sign-in name that is taken', async () => {
		const user = { signIn: 'pia', name: 'Pia', role: 'counter' as const, technician: null, password };
		expect(await addUser(db, 'Odile', NOW, user)).toEqual({ ok: true });
		expect(await addUser(db, 'Odile', NOW, user)).toMatchObject({ ok: false, field: 'signIn' });
		// three managers at once
		const third = { ...user, signIn: 'three-at-once' };
		const answers = await Promise.all(
			['Odile', 'Pia', 'Noor'].map((actor) => addUser(db, actor, NOW, third))
		);
		expect(answers.filter(({ ok }) => ok)).toHaveLength(1);
		for (const answer of answers.filter(({ ok }) => !ok))
			expect(answer).toMatchObject({ field: 'signIn', message: expect.stringContaining('taken') as string });
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
	it('end after a week, however often they show a sign of life', async () => {
		let token = await tokenAt(NOW);
		const week = 7 * 24 * HOUR_MS;
		for (let at = NOW + 6 * HOUR_MS; at < NOW + week; at += 6 * HOUR_MS) {
			const read = await readSession(db, at, token);
			expect(read?.user.signIn, `after ${(at - NOW) / HOUR_MS} hours`).toBe('odile');
			token = read?.newToken ?? token;
		}
		expect(await readSession(db, NOW + week - 1, token)).not.toBeNull();
		expect(await readSession(db, NOW + week + 1, token)).toBeNull();
	});
	it('end after half a day without a sign of life', async () => {
		const token = await tokenAt(NOW);
		expect(await readSession(db, NOW + 12 * HOUR_MS + 1, token)).toBeNull();
	});
});

describe('attempts', () => {
	const wrong = (name: string, address = '10.9.9.9', device?: string) =>
		signIn(db, NOW, { signIn: name, password: 'wrong', address, device });
	const looked = (answers: { ok: boolean; message?: string }[]) =>
		answers.filter(({ message }) => message?.includes('do not match')).length;
	beforeEach(() => db('rate_limits').delete());

	it('two dozen at the same moment are counted before any is looked at', async () => {
		const answers = await Promise.all(Array.from({ length: 24 }, () => wrong('odile')));
		expect(looked(answers)).toBe(6);
		expect(
			answers.filter((answer) => 'waitSeconds' in answer && (answer.waitSeconds ?? 99) <= 10)
		).toHaveLength(18);
	});
	it('however the name is spelt, it is one account', async () => {
		const spellings = [
			'odile',
			'ODILE',
			' Odile ',
			'odile\u00a0',
			'\uff4f\uff44\uff49\uff4c\uff45',
			'oDile',
			'OdilE',
			'odilE'
		];
		const answers = [];
		for (const name of spellings) answers.push(await wrong(name));
		expect(looked(answers)).toBe(6);
		// what the database once took for the same name is nobody here
		expect(await enter(password, NOW, '10.9.9.7', 'odil\u00e9')).toMatchObject({ ok: false });
	});
	it('nobody is locked out: unknown names from one address, and the right one still comes in', async () => {
		await Promise.all(Array.from({ length: 45 }, (_, i) => wrong(`nobody-${i}`)));
		expect(await enter(password, NOW, '10.9.9.9')).toMatchObject({ ok: true });
	});
	it('signing in rightly, however often, slows nobody of the same network down', async () => {
		for (let i = 0; i < 12; i++) expect((await enter(password, NOW, '10.9.9.6')).ok).toBe(true);
		const row = await db('rate_limits').where('key', 'net:10.9.9.6').first('points');
		expect(row?.points).toBe(0);
	});
	it('a browser that has signed in before is counted by itself while others try the account', async () => {
		const first = await enter(password, NOW, '10.9.9.9');
		if (!first.ok) throw new Error(first.message);
		await Promise.all(Array.from({ length: 24 }, () => wrong('odile', '10.1.1.1')));
		expect(await enter(password, NOW, '10.9.9.9')).toMatchObject({ ok: false });
		const own = { signIn: 'odile', password, address: '10.9.9.9' };
		expect(await signIn(db, NOW, { ...own, device: `${first.device}x` })).toMatchObject({ ok: false });
		expect(await signIn(db, NOW, { ...own, device: first.device })).toMatchObject({ ok: true });
	});
	it.each([
		['2001:db8:1:2:3:4:5:6', '2001:db8:1:2::/64'],
		['2001:db8:1:2::9', '2001:db8:1:2::/64'],
		['2001:DB8:0001:2::', '2001:db8:1:2::/64'],
		['::1', '0:0:0:0::/64'],
		['fe80::1%eth0', 'fe80:0:0:0::/64'],
		['::ffff:10.0.0.7', '10.0.0.7'],
		['10.0.0.7', '10.0.0.7']
	])('%s is of the network %s', (address, network) => expect(networkOf(address)).toBe(network));
	it('leave a line in the trail: who came in, and that somebody was refused', async () => {
		await enter(password, NOW, '10.4.4.4');
		await wrong('odile', '10.4.4.4');
		const lines = await db('audit').where({ subject: 'door', subject_key: '10.4.4.4' }).orderBy('id');
		expect(lines.map(({ verb, actor }) => [verb, actor])).toEqual([
			['sign-in', 'Odile'],
			['sign-in-refused', 'Odile']
		]);
		expect(JSON.stringify(lines)).not.toContain('wrong');
	});
});

describe('passwords', () => {
	it.each([
		'short',
		'elevenchars',
		'password1234',
		'123456789012',
		'qwertyuiopas',
		'aaaaaaaaaaaa',
		'PasswordPassword',
		'Michael12345'
	])('%s is refused', (word) => expect(passwordSchema.safeParse(word).success).toBe(false));
	it.each(['saltmarsh-demo', 'twelve chars', 'vier Möwen am Kai'])('%s is taken', (word) =>
		expect(passwordSchema.safeParse(word).success).toBe(true)
	);
	it('can be changed by their owner, who writes the old one', async () => {
		const user = { signIn: 'noor', name: 'Noor', role: 'technician' as const, technician: null, password };
		await addUser(db, 'Odile', NOW, user);
		const id = (await listUsers(db)).find(({ signIn }) => signIn === 'noor')?.id ?? 0;
		const change = (current: string, next: string, again = next) =>
			changeOwnPassword(db, NOW, id, { current, password: next, again });
		expect(await change('not it', 'another good one')).toMatchObject({ field: 'current' });
		expect(await change(password, 'another good one', 'another god one')).toMatchObject({ field: 'again' });
		expect(await change(password, password)).toMatchObject({ field: 'password' });
		expect(await change(password, 'another good one')).toEqual({ ok: true });
		expect((await enter('another good one', NOW, '10.5.5.5', 'noor')).ok).toBe(true);
		expect((await enter(password, NOW, '10.5.5.5', 'noor')).ok).toBe(false);
	});
	it('a manager gives a one-time one: sessions end, a new one comes first, and it runs out', async () => {
		const before = await enter('another good one', NOW, '10.5.5.6', 'noor');
		const reset = await resetPassword(db, 'Odile', NOW, { sign_in: 'noor' });
		if (!before.ok || !reset.ok) throw new Error('refused');
		expect(await readSession(db, NOW, before.token)).toBeNull();
		const answer = await enter(reset.password, NOW, '10.5.5.7', 'noor');
		expect(answer).toMatchObject({ ok: true, user: { mustChange: true } });
		expect(await enter(reset.password, NOW + 49 * HOUR_MS, '10.5.5.8', 'noor')).toMatchObject({
			ok: false,
			message: expect.stringContaining('run out')
		});
		expect(await resetPassword(db, 'Odile', NOW, { sign_in: 'nobody' })).toMatchObject({ ok: false });
		expect(JSON.stringify(await db('audit').where({ verb: 'reset-password' }))).not.toContain(reset.password);
	});
});

describe('API tokens', () => {
	const owner = async () =>
		(await listUsers(db)).find(({ signIn }) => signIn === 'odile') ?? { id: 0, name: '' };
	it('work until they are revoked, with their role, and are stored as a hash', async () => {
		const token = await makeApiToken(db, await owner(), NOW, { label: 'till', role: 'counter', days: 90000 });
		expect(await readBearer(db, token)).toEqual({ name: 'API token till', role: 'counter' });
		expect(JSON.stringify(await db('api_tokens'))).not.toContain(token);
		const [{ id, owner: name, usedAt } = { id: 0, owner: null, usedAt: null }] = await listApiTokens(db, NOW);
		expect([name, usedAt !== null]).toEqual(['Odile', true]);
		await revokeApiToken(db, 'Odile', NOW, id);
		expect(await readBearer(db, token)).toBeNull();
	});
	it('end at their time and with their owner', async () => {
		const late = await makeApiToken(db, await owner(), Date.now() - 31 * 24 * HOUR_MS, {
			label: 'old',
			role: 'manager',
			days: 30
		});
		expect(await readBearer(db, late)).toBeNull();
		const second = { signIn: 'bram', name: 'Bram', role: 'manager' as const, technician: null, password };
		await addUser(db, 'Odile', NOW, second);
		const bram = (await listUsers(db)).find(({ signIn }) => signIn === 'bram');
		if (!bram) throw new Error('missing');
		const token = await makeApiToken(db, bram, Date.now(), { label: 'his', role: 'manager', days: 30 });
		expect(await readBearer(db, token)).toMatchObject({ role: 'manager' });
		await setUserActive(db, 'Odile', NOW, { ...bram, active: false });
		expect(await readBearer(db, token)).toBeNull();
		expect((await listApiTokens(db, Date.now())).map(({ label, ended }) => [label, ended])).toContainEqual([
			'his',
			true
		]);
	});
	it('the one of the start has manager rights where it is set, and is long enough', async () => {
		const fixed = 'from-the-start-and-long-x';
		expect(await readBearer(db, fixed)).toBeNull();
		process.env.TAVREK_API_TOKEN = fixed;
		expect(await readBearer(db, fixed)).toMatchObject({ role: 'manager' });
		delete process.env.TAVREK_API_TOKEN;
		expect(() => refuseShortToken('x'.repeat(23))).toThrow(/23 characters; use at least 24/);
		expect(() => refuseShortToken('x'.repeat(24))).not.toThrow();
	});
});

describe('migrations', () => {
	it('can be run again and by several at once', async () => {
		await expect(Promise.all([migrate(db), migrate(db), migrate(db)])).resolves.toHaveLength(3);
	});
	it('recover from a process that was killed in the middle', async () => {
		const users = await listUsers(db);
		expect(users.length).toBeGreaterThan(3);
		await db('knex_migrations_lock').update({ is_locked: 1 });
		await db('knex_migrations').delete();
		await migrate(db);
		expect(await listUsers(db)).toEqual(users);
	});
	it('a filled database of the version before keeps all of it', async () => {
		const { db: old } = await freshDatabaseUrl();
		await migrate(old, '002-predictions');
		const at = new Date(NOW);
		await old('users').insert({
			sign_in: 'odile',
			name: 'Odile',
			role: 'manager',
			password_hash: 'x',
			created_at: at
		});
		await old('users').insert({
			sign_in: 'second',
			name: 'Second',
			role: 'manager',
			password_hash: 'x',
			created_at: at
		});
		await old('api_tokens').insert([
			{ label: 'till', role: 'counter', token_hash: 'a'.repeat(64), created_at: at },
			{ label: 'lost', role: 'counter', token_hash: 'b'.repeat(64), created_at: at }
		]);
		const trail = { at, subject: 'token', verb: 'make', detail: '{}' };
		await old('audit').insert({ ...trail, actor: 'Second', subject_key: 'till' });
		const reading = {
			record: 'reference',
			model: 'm',
			pin: '1',
			mode: 'diode',
			value: 0.4,
			grade: 'verified'
		};
		const withdrawn = { at: '2026-01-01T00:00:00Z', because: 'slipped' };
		for (const record of [reading, { ...reading, withdrawn }]) {
			const text = JSON.stringify(record);
			const digest = createHash('sha256').update(text).digest('hex');
			await old('reference_readings').insert({ model: 'm', digest, occurrence: 1, record: text });
		}
		await migrate(old);
		const owners = await old('api_tokens')
			.join('users', 'users.id', 'owner_id')
			.orderBy('api_tokens.id')
			.pluck('users.name');
		expect(owners).toEqual(['Second', 'Odile']);
		const rows = await old('reference_readings').orderBy('id').select('digest', 'occurrence');
		expect(rows[1]).toEqual({ digest: rows[0]?.digest, occurrence: 2 });
		expect(await listUsers(old)).toHaveLength(2);
		await old.destroy();
	});
});
