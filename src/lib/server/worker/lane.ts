import { Piscina } from 'piscina';
import type { Asker } from '../http/guard';
import { log } from '../logging/log';
import { Stopped } from '../database/in-turns';

/** How a kind of question is treated. */
export interface Rule {
	/** a person waits for it; without, it is work ahead of anybody's asking, which goes last */
	waited: boolean;
	/** after so many seconds its worker is ended and the question refused */
	seconds: number;
	/** work ahead that makes room as soon as a person waits, and keeps what it has come to */
	makesRoom?: boolean;
	/** so short that it goes beside a longer one in the same thread, between two slices of that */
	short?: boolean;
}

/** Refused without having been worked on. */
export class Busy extends Error {
	readonly code = 'TAVREK_BUSY';
}
/** Given up after its time, with its worker. */
export class TookTooLong extends Error {
	readonly code = 'TAVREK_TOO_LONG';
}

/** What a worker is handed. */
export interface Task<Question> {
	question: Question;
	/** the private database may have come back at another port */
	url: string | undefined;
	/** one number, set to 1 where the work is to end */
	stop: SharedArrayBuffer;
	/** one number: how many requests go before this work; none where somebody waits for it */
	inFlight: SharedArrayBuffer | null;
}
/** What it answers; an error keeps its kind over the border between threads. */
export type Reply =
	{ answer: unknown } | { error: { name: string; message: string; code?: string; fatal?: boolean } };

/** So many questions of one person wait in a lane at most, and so many of all. Choices. */
const MOST_OF_ONE = 4;
const MOST_WAITING = 60;
/** After its time a question is asked to end; its worker is ended where it has not heard so much later. A choice. */
const GRACE_MS = 2000;
/**
 * Work ahead that was asked to make room and has not by then is ended with its worker. Long, since what the shop learnt may have to be
 * read first, with very many tickets for a minute. A choice.
 */
const ROOM_MS = 120_000;

interface Waiter {
	who: string;
	resolve(answer: unknown): void;
	reject(error: Error): void;
}
interface Entry<Question> {
	key: string;
	question: Question;
	rule: Rule;
	stop: Int32Array<SharedArrayBuffer>;
	waiters: Set<Waiter>;
	since: number;
	overTime: boolean;
	/** until when it is to have made room */
	room?: NodeJS.Timeout;
	/** did not stop when it was asked to: its threads were ended */
	ended?: boolean;
	/** its thread was ended because of another question: it is asked again, once */
	lost?: 'now' | 'before';
}

/** What a lane does now, without saying for whom. */
export interface LaneState {
	name: string;
	threads: number;
	running: { kind: string; seconds: number }[];
	waiting: number;
	/** since the start */
	answered: number;
	ended: number;
	refused: number;
}

/**
 * Workers for one kind of work, each at one question at a time: who waits first, then what nobody waits for. Equal questions are
 * asked once; one that nobody waits for any more is stopped; one that passes its time is ended with its worker, which is replaced.
 */
export class Lane<Question extends { kind: string }> {
	readonly #name: string;
	readonly #threads: number;
	readonly #file: string;
	#pool: Piscina<Task<Question>, Reply>;
	readonly #rules: Readonly<Record<string, Rule>>;
	readonly #inFlight: SharedArrayBuffer | null;
	readonly #graceMs: number;
	readonly #roomMs: number;
	#waiting: Entry<Question>[] = [];
	readonly #running = new Set<Entry<Question>>();
	readonly #counts = { answered: 0, ended: 0, refused: 0 };

	constructor(
		name: string,
		{
			file,
			threads,
			rules,
			inFlight = null,
			graceMs = GRACE_MS,
			roomMs = ROOM_MS
		}: {
			file: string;
			threads: number;
			rules: Readonly<Record<string, Rule>>;
			/** one number: how many requests are being answered */
			inFlight?: SharedArrayBuffer | null;
			graceMs?: number;
			roomMs?: number;
		}
	) {
		this.#name = name;
		this.#threads = threads;
		this.#rules = rules;
		this.#inFlight = inFlight;
		this.#file = file;
		this.#pool = this.#newPool();
		this.#graceMs = graceMs;
		this.#roomMs = roomMs;
	}

	#newPool(): Piscina<Task<Question>, Reply> {
		const pool = new Piscina<Task<Question>, Reply>({
			filename: this.#file,
			minThreads: 0,
			maxThreads: this.#threads,
			// a worker's memory of the shop is dear: it stays
			idleTimeout: Infinity,
			// a long question, and a short one between its slices
			concurrentTasksPerWorker: 2,
			// a worker that waits for tasks by Atomics.wait would not hear its own connections
			atomics: 'disabled'
		});
		pool.on('error', (error) => log.error({ lane: this.#name, error: String(error) }, 'a worker fell over'));
		return pool;
	}

	/**
	 * @param key equal ones are the same question
	 * @throws Busy, TookTooLong, Stopped where the asker is gone, and whatever the work throws
	 */
	ask(question: Question, key: string, { who: userName, gone: signal }: Asker): Promise<unknown> {
		const rule = this.#rules[question.kind];
		if (!rule) throw new Error(`no rule for questions of the kind ${question.kind}`);
		if (signal?.aborted) return Promise.reject(new Stopped());
		let entry = [...this.#running, ...this.#waiting].find(
			(entry) => entry.key === key && Atomics.load(entry.stop, 0) === 0
		);
		if (!entry) {
			const full = rule.waited && this.#fullFor(userName);
			if (full) {
				this.#counts.refused += 1;
				return Promise.reject(new Busy(full));
			}
			entry = {
				key,
				question,
				rule,
				stop: new Int32Array(new SharedArrayBuffer(4)),
				waiters: new Set(),
				since: performance.now(),
				overTime: false
			};
			this.#waiting.push(entry);
		}
		const answered = this.#wait(entry, userName, signal);
		this.#next();
		this.#makeRoom();
		return answered;
	}

	#fullFor(userName: string): string | null {
		const waiting = this.#waiting.filter(({ rule }) => rule.waited);
		const theirs = waiting.filter(({ waiters }) => [...waiters].some((waiter) => waiter.who === userName));
		// what the house asks is asked for all who look
		if (userName !== '' && theirs.length >= MOST_OF_ONE)
			return `${MOST_OF_ONE} questions of yours wait for their turn already; ask again when they are answered`;
		if (waiting.length >= MOST_WAITING)
			return 'many questions wait for their turn already; ask again in half a minute';
		return null;
	}

	#wait(entry: Entry<Question>, userName: string, signal: AbortSignal | undefined): Promise<unknown> {
		return new Promise((resolve, reject) => {
			const onAbort = () => {
				entry.waiters.delete(waiter);
				reject(new Stopped());
				if (entry.waiters.size > 0) return;
				Atomics.store(entry.stop, 0, 1);
				this.#waiting = this.#waiting.filter((waiting) => waiting !== entry);
			};
			const stopListening = () => signal?.removeEventListener('abort', onAbort);
			const waiter: Waiter = {
				who: userName,
				resolve: (answer) => (stopListening(), resolve(answer)),
				reject: (error) => (stopListening(), reject(error))
			};
			entry.waiters.add(waiter);
			signal?.addEventListener('abort', onAbort, { once: true });
		});
	}

	/** Work that nobody waits for ends at its next step where somebody does. */
	#makeRoom(): void {
		if (!this.#waiting.some(({ rule }) => rule.waited)) return;
		for (const entry of this.#running) {
			if (!entry.rule.makesRoom) continue;
			Atomics.store(entry.stop, 0, 1);
			entry.room ??= setTimeout(() => {
				entry.overTime = true;
				this.#end(entry);
			}, this.#roomMs);
		}
	}

	#next(): void {
		for (let at = this.#first(); at >= 0; at = this.#first()) {
			const [entry] = this.#waiting.splice(at, 1);
			if (entry) void this.#run(entry);
		}
	}

	/** Where the question stands that is to be begun now: who waits first, in their order; -1 where there is no room. */
	#first(): number {
		const running = [...this.#running];
		const long = running.filter(({ rule }) => !rule.short).length;
		const isRoom = ({ rule }: Entry<Question>) =>
			rule.short ? running.length - long < this.#threads : long < this.#threads;
		const waited = this.#waiting.findIndex((entry) => entry.rule.waited && isRoom(entry));
		return waited >= 0 ? waited : this.#waiting.findIndex(isRoom);
	}

	/** Ends the threads of the lane because of a question that does not stop. What else they were at is asked again. */
	#end(entry: Entry<Question>): void {
		entry.ended = true;
		for (const running of this.#running) if (running !== entry && !running.overTime) running.lost ??= 'now';
		const pool = this.#pool;
		this.#pool = this.#newPool();
		void pool.destroy();
	}

	async #run(entry: Entry<Question>): Promise<void> {
		this.#running.add(entry);
		entry.since = performance.now();
		const { question, rule, stop } = entry;
		const end = setTimeout(() => {
			entry.overTime = true;
			Atomics.store(stop, 0, 1);
			kill = setTimeout(() => this.#end(entry), this.#graceMs);
		}, rule.seconds * 1000);
		let kill: NodeJS.Timeout | undefined;
		try {
			const inFlight = rule.waited ? null : this.#inFlight;
			const task = { question, url: process.env.DATABASE_URL, stop: stop.buffer, inFlight };
			const reply = await this.#pool.run(task);
			if ('error' in reply) throw Object.assign(new Error(reply.error.message), reply.error);
			this.#counts.answered += 1;
			for (const waiter of entry.waiters) waiter.resolve(reply.answer);
		} catch (error) {
			if (entry.lost === 'now' && entry.waiters.size > 0) {
				entry.lost = 'before';
				this.#waiting.unshift(entry);
				return;
			}
			const reason = entry.overTime ? this.#tooLong(entry) : (error as Error);
			for (const waiter of entry.waiters) waiter.reject(reason);
		} finally {
			clearTimeout(end);
			clearTimeout(kill);
			clearTimeout(entry.room);
			this.#running.delete(entry);
			this.#next();
		}
	}

	#tooLong({ question, rule, ended = false }: Entry<Question>): TookTooLong {
		this.#counts.ended += 1;
		log.error(
			{ question: question.kind, lane: this.#name, seconds: rule.seconds, ended },
			ended
				? 'a question took too long and did not stop when asked: its worker was ended and is replaced'
				: 'a question took too long and was stopped'
		);
		return new TookTooLong(
			`it took over ${rule.seconds} s and was stopped; ask again later, or ask for less`
		);
	}

	state(): LaneState {
		const now = performance.now();
		return {
			name: this.#name,
			threads: this.#threads,
			running: [...this.#running].map(({ question, since }) => ({
				kind: question.kind,
				seconds: Math.round((now - since) / 100) / 10
			})),
			waiting: this.#waiting.length,
			...this.#counts
		};
	}

	async close(): Promise<void> {
		for (const { stop } of this.#running) Atomics.store(stop, 0, 1);
		for (const { waiters } of this.#waiting.splice(0))
			for (const waiter of waiters) waiter.reject(new Stopped());
		await this.#pool.destroy();
	}
}
