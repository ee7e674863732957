import { getContext, setContext } from 'svelte';
import {
	confirmed,
	dropped,
	entryText,
	nextToSend,
	readOutbox,
	refused,
	sentAgain,
	stale,
	withEntry,
	type ChangeMeanwhile,
	type Outbox,
	type OutboxEntry
} from '$lib/core/tickets/outbox';
import { refusalWords } from '$lib/core/tickets/refusal-words';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import type { OtherTimer } from '$lib/server/tickets/change-ticket';
import type { TicketView, ViewSlices } from '$lib/server/tickets/view';
import { newOnce } from './once';

/** What the server says of a change. */
export type ChangeSaid =
	| { ok: true; version: number; view: TicketView }
	| { ok: true; version: number; slices: ViewSlices }
	| { ok: false; code: 'stale'; version: number; view: TicketView; changes: ChangeMeanwhile[] }
	| {
			ok: false;
			code: 'refused' | 'not-yours' | 'missing';
			refusal?: { field: string; message: string };
			elsewhere?: OtherTimer;
			message?: string;
	  };

/** A new state of a ticket: whole, or what one change made of the state before. */
export type NewState = { view: TicketView } | { slices: ViewSlices };

/** Where entries are kept: the browser's own store, or a map in a test. */
export type Keep = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

const PREFIX = 'tavrek-outbox:'; // leave.ts knows it too
/** A form waits so long for its answer before its entry counts as kept. */
const ANSWER_MS = 1500;
const RETRY_MS = [1000, 2000, 4000, 8000, 15_000];
const MOST_FAILURES = 5;
const MOST_WAITED_MS = 30 * 24 * 3600 * 1000;

/**
 * Everything that was entered on tickets and is not confirmed yet: sent one after another in the order of entry, kept in
 * the browser over reload and closing of the tab, sent when the line is back. A refused entry stays until somebody decides.
 */
export class OutboxState {
	entries = $state.raw<Outbox>([]);
	/** whether the server answers, and whether it still knows who this is */
	line = $state<'there' | 'away' | 'signed-out'>('there');
	/** the browser keeps no more: what is entered is only in this page */
	full = $state(false);
	#prefix: string;
	#keep: Keep;
	#fetch: typeof fetch;
	#draining = false;
	#tries = 0;
	#failures = new Map<string, number>();
	#answers = new Map<string, (made: boolean) => void>();
	#listeners = new Map<string, (state: NewState) => void>();
	#retry: ReturnType<typeof setTimeout> | undefined;

	/** @param user sign-in name: another person at the same browser neither sees nor sends these entries */
	constructor(user: string, keep: Keep, send: typeof fetch = fetch) {
		this.#prefix = `${PREFIX}${user}:`;
		this.#keep = keep;
		this.#fetch = send;
	}

	/** Reads what was kept, also by other tabs, and goes on sending. */
	restore(): void {
		const texts: string[] = [];
		for (let i = 0; i < this.#keep.length; i++) {
			const key = this.#keep.key(i);
			if (key?.startsWith(this.#prefix)) texts.push(this.#keep.getItem(key) ?? '');
		}
		this.entries = readOutbox(texts);
		void this.drain();
	}

	/** Forgets all of it, in this page and in the browser. */
	forget(): void {
		clearTimeout(this.#retry);
		this.#put([]);
	}

	/** Hears each new state of a ticket. @returns how to stop hearing */
	hear(number: string, listener: (state: NewState) => void): () => void {
		this.#listeners.set(number, listener);
		return () => this.#listeners.delete(number);
	}

	/**
	 * Takes an entry. @param version of the ticket on the screen
	 * @returns true where it was made, or is kept until the line is back; false where it was refused or overtaken
	 */
	add(number: string, change: TicketChangeInput, version: number): Promise<boolean> {
		const entry = { number, change, once: newOnce(), enteredAt: Date.now() };
		this.#put(withEntry(this.entries, entry, version));
		const answered = new Promise<boolean>((resolve) => {
			this.#answers.set(entry.once, resolve);
			setTimeout(() => resolve(true), ANSWER_MS);
		});
		void this.drain();
		return answered;
	}

	again(once: string, version: number): void {
		this.#put(sentAgain(this.entries, once, version, newOnce()));
		void this.drain();
	}

	drop(once: string): void {
		this.#put(dropped(this.entries, once));
		void this.drain();
	}

	/** Sends what waits, one after another, until nothing is left to send or the line is away. */
	async drain(): Promise<void> {
		if (this.#draining) return;
		this.#draining = true;
		clearTimeout(this.#retry);
		let isOnline = true;
		for (let next = nextToSend(this.entries); isOnline && next; next = nextToSend(this.entries)) {
			isOnline = await this.#post(next);
		}
		this.#draining = false;
		if (isOnline) this.#tries = 0;
		else
			this.#retry = setTimeout(
				() => void this.drain(),
				RETRY_MS[Math.min(this.#tries++, RETRY_MS.length - 1)]
			);
	}

	/** @returns false where the line is away and the entry has to wait */
	async #post({ number, version, change, once, enteredAt }: OutboxEntry): Promise<boolean> {
		const waited = Math.min(MOST_WAITED_MS, Date.now() - enteredAt);
		let response: Response;
		try {
			response = await this.#fetch(`/tickets/${number}/change`, {
				method: 'POST',
				headers: { 'content-type': 'application/json' },
				body: JSON.stringify({ version, once, change, ...(waited > 2000 ? { waitedMs: waited } : {}) }),
				signal: AbortSignal.timeout(30_000)
			});
		} catch {
			return this.#away(once, 'away');
		}
		if (response.status === 401) return this.#away(once, 'signed-out');
		const failures = (this.#failures.get(once) ?? 0) + 1;
		if (response.status === 500 && failures >= MOST_FAILURES) {
			return this.#refuse(
				once,
				'the server failed on it again and again; keep it, and tell who runs the server'
			);
		}
		if (response.status >= 500 || response.status === 429) {
			this.#failures.set(once, failures);
			return this.#away(once, 'away');
		}
		const answer = (await response.json().catch(() => null)) as ChangeSaid | null;
		if (answer === null) return this.#refuse(once, `the server answered ${response.status}`);
		return this.#take(number, once, answer);
	}

	#take(number: string, once: string, answer: ChangeSaid): true {
		this.line = 'there';
		if (answer.ok) this.#settle(once, confirmed(this.entries, once), true);
		else if (answer.code === 'stale') {
			this.#settle(once, stale(this.entries, once, answer.version, answer.changes), false);
		} else {
			const { refusal } = answer;
			const words = refusal ? refusalWords(refusal) : (answer.message ?? 'refused');
			return this.#refuse(once, words, answer.elsewhere);
		}
		this.#listeners.get(number)?.(answer);
		return true;
	}

	#refuse(once: string, reason: string, timer?: OtherTimer): true {
		this.line = 'there';
		this.#settle(once, refused(this.entries, once, reason, timer), false);
		return true;
	}

	#away(once: string, line: 'away' | 'signed-out'): false {
		this.line = line;
		this.#answers.get(once)?.(true);
		return false;
	}

	#settle(once: string, entries: Outbox, made: boolean): void {
		this.#put(entries);
		this.#failures.delete(once);
		this.#answers.get(once)?.(made);
		this.#answers.delete(once);
	}

	#put(entries: Outbox): void {
		const previous = new Map(this.entries.map((entry) => [entry.once, entry]));
		this.entries = entries;
		try {
			for (const entry of entries) {
				if (previous.get(entry.once) !== entry)
					this.#keep.setItem(this.#prefix + entry.once, entryText(entry));
				previous.delete(entry.once);
			}
			for (const once of previous.keys()) this.#keep.removeItem(this.#prefix + once);
			this.full = false;
		} catch {
			this.full = true;
		}
	}
}

const KEY = Symbol('outbox');
export const provideOutbox = (outbox: OutboxState) => setContext(KEY, outbox);
export const useOutbox = () => getContext<OutboxState>(KEY);
