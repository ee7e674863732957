import { getContext, setContext } from 'svelte';
import { waitCalls, waitKey } from '$lib/core/bench/wait-calls';
import type { Wait } from '$lib/core/tickets/ticket-entries';

export interface BoardWait {
	number: string;
	version: number;
	model: string;
	for: Wait;
	note: string | null;
	until: number;
	with: string | null;
}

/** What is over, in few words: for a title or a notification. */
export const overWords = ({ note, for: waitFor, number }: BoardWait) =>
	`${note ?? `wait for ${waitFor}`} · ${number}`;

const ASK_EVERY_MS = 20_000;

/** Every wait of the shop that ends by itself, counted down by the server's clock in every open page. */
export class WaitBoard {
	waits = $state.raw<BoardWait[]>([]);
	/** the server's clock */
	now = $state(Date.now());
	#offset = 0;
	#called = new Set<string>();
	calls = $derived(waitCalls(this.waits, this.now));

	/** @param onover is told of each wait once, when its time is over */
	constructor(private readonly onover: (wait: BoardWait) => void) {}

	/** The server's clock to the millisecond, for what is measured and not only shown. */
	exactly = (): number => Date.now() + this.#offset;

	async ask(): Promise<void> {
		try {
			const response = await fetch('/waits');
			if (!response.ok) return;
			const { now, waits } = (await response.json()) as { now: number; waits: BoardWait[] };
			this.#offset = now - Date.now();
			this.waits = waits;
			this.#tick();
		} catch {
			// the line is down: what is known is counted on
		}
	}

	/** Counts down until it is told to stop. @returns how to stop */
	run(): () => void {
		void this.ask();
		const ask = setInterval(() => void this.ask(), ASK_EVERY_MS);
		const tick = setInterval(() => this.#tick(), 1000);
		return () => {
			clearInterval(ask);
			clearInterval(tick);
		};
	}

	#tick(): void {
		this.now = this.exactly();
		for (const wait of this.calls.over) {
			const key = waitKey(wait);
			if (this.#called.has(key)) continue;
			this.#called.add(key);
			this.onover(wait);
		}
	}
}

const KEY = Symbol('wait board');
export const provideWaits = (board: WaitBoard) => setContext(KEY, board);
export const useWaits = () => getContext<WaitBoard>(KEY);
