import { parse, stringify } from 'devalue';
import { thisBuild } from '../database/this-build';
import { database, isDatabaseAway, type Queryable } from '../database/connection';
import { log } from '../logging/log';

/** A view that takes long to work out, as a screen shows it. */
export interface Shown<View> {
	view: View;
	/** when it was worked out */
	asOf: number;
	/** the newer one that is on its way; null where this one is new, or none comes (then it is told why) */
	newer: Promise<Fresh<View> | null> | null;
}
export interface Fresh<View> {
	view: View;
	asOf: number;
}

/** So long a look waits for what is new before it takes what was shown last. A choice. */
const PATIENCE_MS = 300;
/** After a view that took long, no newer one is worked out for so many times as long: others need the workers too. Choices. */
const LONG_MS = 1000;
const REST = 4;
/** So many views are remembered in the process. */
const MOST_KEPT = 200;
/** A view is written down for the next start once in so long. */
const WRITTEN_MS = 30_000;

interface Kept extends Fresh<unknown> {
	tookMs: number;
	writtenAt: number;
}
const kept = new Map<string, Kept>();
const coming = new Map<string, { since: number; made: Promise<Kept> }>();
/** moves when everything that was shown is forgotten: what was under way then is not kept */
let forgotten = 0;

/**
 * A view at once: the new one where it comes soon, else what was shown last with the new one behind it. Only a view that was never
 * worked out is waited for.
 * @param keep it is written down, and shown again after a start
 * @param changedAt the moment of what who looks changed last: a view from before it does not rest, and one under way from before it is not the
 * newer one
 */
export async function lookAt<View>(
	name: string,
	{ keep, changedAt = 0 }: { keep: boolean; changedAt?: number },
	work: () => Promise<View>
): Promise<Shown<View>> {
	const last = kept.get(name) ?? (keep ? await readShown(name) : undefined);
	const now = Date.now();
	const rests = last && last.tookMs > LONG_MS && now - last.asOf < REST * last.tookMs;
	if (rests && last.asOf >= changedAt) return shown<View>(last, null);
	const fresh = begunAfter(changedAt, name, keep, work);
	if (!last) return shown<View>(await fresh, null);
	const soon = await Promise.race([
		fresh.catch((error: unknown) => {
			// what was shown last stands in for all but a database that is away
			if (isDatabaseAway(error)) throw error;
			return null;
		}),
		new Promise<'later'>((resolve) => setTimeout(() => resolve('later'), PATIENCE_MS))
	]);
	if (soon === 'later') {
		const newer = fresh.then(
			({ view, asOf }) => ({ view: view as View, asOf }),
			() => null
		);
		return shown<View>(last, newer);
	}
	return shown<View>(soon ?? last, null);
}

/** What is under way where it began late enough. What began too early is waited out, then worked out again: equal questions are asked once. */
function begunAfter(
	changedAt: number,
	name: string,
	keep: boolean,
	work: () => Promise<unknown>
): Promise<Kept> {
	const underWay = coming.get(name);
	if (!underWay) return begin(name, keep, work);
	if (underWay.since >= changedAt) return underWay.made;
	const again = () => begunAfter(changedAt, name, keep, work);
	return underWay.made.then(again, again);
}

const shown = <View>({ view, asOf }: Kept, newer: Shown<View>['newer']): Shown<View> => ({
	view: view as View,
	asOf,
	newer
});

function begin(name: string, keep: boolean, work: () => Promise<unknown>): Promise<Kept> {
	const since = Date.now();
	const at = forgotten;
	const fresh = work()
		.then((view): Kept => {
			const previous = kept.get(name);
			const made = { view, asOf: since, tookMs: Date.now() - since, writtenAt: previous?.writtenAt ?? 0 };
			if (at !== forgotten) return made;
			kept.delete(name);
			kept.set(name, made);
			for (const oldest of kept.keys()) if (kept.size > MOST_KEPT) kept.delete(oldest);
			if (keep && since - made.writtenAt > WRITTEN_MS) {
				made.writtenAt = since;
				void writeShown(name, made, at);
			}
			return made;
		})
		.finally(() => coming.delete(name));
	coming.set(name, { since, made: fresh });
	// nobody may be waiting when it fails: the next look says so
	fresh.catch((error: unknown) =>
		log.warn({ view: name.split(' ')[0], error: String(error) }, 'a view stays as it was')
	);
	return fresh;
}

async function readShown(name: string): Promise<Kept | undefined> {
	const db = await database();
	const row = await db('shown_views').where({ name, build: thisBuild() }).first('as_of', 'view');
	if (!row) return undefined;
	const asOf = row.as_of.getTime();
	const { view, tookMs } = parse(row.view) as Pick<Kept, 'view' | 'tookMs'>;
	// how long it took is kept with it: right after a start the cores are needed for what was not kept
	const read: Kept = { view, asOf, tookMs, writtenAt: asOf };
	// what came in meanwhile is newer
	return kept.get(name) ?? read;
}

async function writeShown(name: string, { view, asOf, tookMs }: Kept, at: number): Promise<void> {
	try {
		const db = await database();
		if (at !== forgotten) return;
		await db('shown_views')
			.insert({ name, build: thisBuild(), as_of: new Date(asOf), view: stringify({ view, tookMs }) })
			.onConflict('name')
			.merge();
	} catch (error) {
		log.warn({ view: name.split(' ')[0], error: String(error) }, 'a view is not kept for the next start');
	}
}

/** Forgets all that was shown: it may name who is erased. */
export async function forgetShown(trx: Queryable): Promise<void> {
	forgotten += 1;
	kept.clear();
	await trx('shown_views').delete();
}
