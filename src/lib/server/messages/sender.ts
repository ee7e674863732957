import process from 'node:process';
import { database, isDatabaseAway } from '../database/connection';
import { DAY_MS } from '$lib/core/units/instant';
import { log } from '../logging/log';
import { dropOrphanPhotos } from '../tickets/orphan-photos';
import { enqueueToday, messagesRound } from './daily-round';

const EVERY_MS = 10_000;
let timer: NodeJS.Timeout | null = null;
/** What the day calls for is not looked for at every round: it reads tickets of months. */
const LOOK_EVERY_MS = 10 * 60_000;
let lookedAt = 0;
/** Pictures that no ticket holds are looked for some times a day. */
let sweptAt = 0;
let atWork = false;

/** Sends what is due, round by round, in each process that serves; two of them never send one message. */
export function keepSending(): void {
	if (timer !== null || process.env.TAVREK_MESSAGES === 'off') return;
	timer = setInterval(() => void round(), EVERY_MS);
	timer.unref();
}

export function stopMessages(): void {
	if (timer !== null) clearInterval(timer);
	timer = null;
}

async function round(): Promise<void> {
	if (atWork) return;
	atWork = true;
	try {
		const [db, now] = [await database(), Date.now()];
		if (now - lookedAt >= LOOK_EVERY_MS) {
			lookedAt = now;
			await enqueueToday(db, now);
		}
		await messagesRound(db, now);
		if (now - sweptAt >= DAY_MS / 4) {
			sweptAt = now;
			const removed = await dropOrphanPhotos(db, now);
			if (removed > 0) log.info({ pictures: removed }, 'pictures that no ticket holds were removed');
		}
	} catch (error) {
		if (!isDatabaseAway(error)) log.error({ error }, 'messages could not be sent');
	} finally {
		atWork = false;
	}
}
