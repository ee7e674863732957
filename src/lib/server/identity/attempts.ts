import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { isIPv6 } from 'node:net';
import process from 'node:process';
import { BurstyRateLimiter, RateLimiterMySQL, RateLimiterRes } from 'rate-limiter-flexible';
import type { Database } from '../database/connection';

/**
 * Attempts to sign in, counted in the database before a password is looked at, so that a hundred at once and a second
 * process count along. Nobody is locked out: a few go at once, then one in ten seconds.
 */
const AT_ONCE = 5;
const AT_ONCE_SECONDS = 15 * 60;
const THEN_EVERY_SECONDS = 10;
/** Attempts from one network before its answers become slow: names that do not exist must not keep others out. */
const NETWORK_AT_ONCE = 40;
const NETWORK_SECONDS = 15 * 60;
const SLOWEST_MS = 2000;

interface Limits {
	account: BurstyRateLimiter;
	network: RateLimiterMySQL;
	forget(key: string): Promise<void>;
}
const limits = new WeakMap<Database, Limits>();

/** Counts in the database, so that a second process counts along: so many points in so many seconds. */
const limiterOf = (db: Database, keyPrefix: string, points: number, duration: number) =>
	new RateLimiterMySQL({
		storeClient: db,
		storeType: 'knex',
		dbName: (db.client.config.connection as { database: string }).database,
		tableName: 'rate_limits',
		tableCreated: true,
		clearExpiredByTimeout: false,
		keyPrefix,
		points,
		duration
	});

/** Looks at customers' own pages from one network, and links that are none: those are guesses. */
const LOOKS = { points: 240, seconds: 600 } as const;
const GUESSES = { points: 20, seconds: 600 } as const;
const looks = new WeakMap<Database, Record<'look' | 'guess', RateLimiterMySQL>>();

/** Counts a look at an own page, or a guess at one. @returns seconds to wait where there were too many; else null */
export async function countLook(
	db: Database,
	limitName: 'look' | 'guess',
	address: string
): Promise<number | null> {
	const limiters = looks.get(db) ?? {
		look: limiterOf(db, 'look', LOOKS.points, LOOKS.seconds),
		guess: limiterOf(db, 'guess', GUESSES.points, GUESSES.seconds)
	};
	looks.set(db, limiters);
	const { over: exceeded, msBeforeNext } = await consumed(limiters[limitName].consume(networkOf(address)));
	return exceeded ? Math.max(1, Math.ceil(msBeforeNext / 1000)) : null;
}

function limitsOf(db: Database): Limits {
	const cached = limits.get(db);
	if (cached) return cached;
	const base = limiterOf(db, 'one', 1, THEN_EVERY_SECONDS);
	const burst = limiterOf(db, 'few', AT_ONCE, AT_ONCE_SECONDS);
	const made: Limits = {
		account: new BurstyRateLimiter(base, burst),
		network: limiterOf(db, 'net', NETWORK_AT_ONCE, NETWORK_SECONDS),
		forget: async (key) => void (await Promise.all([base.delete(key), burst.delete(key)]))
	};
	limits.set(db, made);
	return made;
}

/** The network that an address belongs to: itself, or the /64 of an IPv6 address, which one household or attacker has whole. */
export function networkOf(address: string): string {
	const mapped = /^::ffff:(\d+\.\d+\.\d+\.\d+)$/i.exec(address)?.[1];
	if (mapped) return mapped;
	const plain = address.split('%')[0] as string;
	if (!isIPv6(plain)) return address;
	const [head = '', tail] = plain.split('::');
	const groups = (text: string) => text.split(':').filter(Boolean);
	const [front, back] = [groups(head), groups(tail ?? '')];
	const zeros = tail === undefined ? 0 : Math.max(0, 8 - front.length - back.length);
	const all = [...front, ...Array<string>(zeros).fill('0'), ...back];
	return `${all
		.slice(0, 4)
		.map((group) => parseInt(group, 16).toString(16))
		.join(':')}::/64`;
}

export type Attempt =
	{ allowed: true; slowMs: number; many: boolean } | { allowed: false; waitSeconds: number };

/**
 * Counts an attempt and says whether a password may be looked at.
 * @param key the account, or the device that has signed in to it before (by OWASP's device cookies, from memory): an
 * attacker who keeps an account busy does not keep its owner out
 */
export async function countAttempt(db: Database, key: string, address: string): Promise<Attempt> {
	const { account, network } = limitsOf(db);
	const from = await consumed(network.consume(networkOf(address)));
	const limited = await consumed(account.consume(key));
	if (limited.over)
		return { allowed: false, waitSeconds: Math.max(1, Math.ceil(limited.msBeforeNext / 1000)) };
	const beyond = from.count - NETWORK_AT_ONCE;
	return { allowed: true, slowMs: beyond <= 0 ? 0 : Math.min(SLOWEST_MS, 100 * beyond), many: beyond > 100 };
}

async function consumed(
	counting: Promise<RateLimiterRes>
): Promise<{ over: boolean; msBeforeNext: number; count: number }> {
	try {
		const { msBeforeNext, consumedPoints } = await counting;
		return { over: false, msBeforeNext, count: consumedPoints };
	} catch (refused) {
		if (!(refused instanceof RateLimiterRes)) throw refused;
		return { over: true, msBeforeNext: refused.msBeforeNext, count: refused.consumedPoints };
	}
}

/** Counts nothing against an account any more, nor this attempt against its network, after it was signed in to. Old counts of others go with it. */
export async function forgetAttempts(db: Database, key: string, address: string): Promise<void> {
	const { forget, network } = limitsOf(db);
	await Promise.all([forget(key), network.reward(networkOf(address))]);
	await db('rate_limits')
		.where('expire', '<', Date.now() - 60_000)
		.limit(1000)
		.delete();
}

const sealOf = (signIn: string, nonce: string) =>
	createHmac('sha256', process.env.TAVREK_KEY ?? '')
		.update(`device ${signIn} ${nonce}`)
		.digest('base64url');

/** A mark for a browser that has signed in to an account: it is counted by itself from then on. Whose it is it does not say. */
export function newDevice(signIn: string): string {
	const nonce = randomBytes(12).toString('base64url');
	return `${nonce}.${sealOf(signIn, nonce)}`;
}

/** What a device is counted by where it has signed in to this account before; else null, and without a key to tell by. */
export function knownDevice(cookie: string | undefined, signIn: string): string | null {
	const [, nonce, seal] = /^([A-Za-z0-9_-]{16})\.([A-Za-z0-9_-]{43})$/.exec(cookie ?? '') ?? [];
	if (!nonce || !seal || !process.env.TAVREK_KEY) return null;
	return timingSafeEqual(Buffer.from(seal), Buffer.from(sealOf(signIn, nonce))) ? `device ${nonce}` : null;
}
