import { getContext, setContext } from 'svelte';
import type { TicketChangeInput } from '$lib/core/tickets/ticket-change';
import type { PlanView } from '$lib/server/tickets/plan-view';
import type { TicketView } from '$lib/server/tickets/view';
import { newOnce } from '../ui/once';

interface Conflict {
	/** what others did meanwhile, in words */
	changes: { actor: string; verb: string; at: number }[];
	change: TicketChangeInput;
}

type Answer =
	| { ok: true; view: TicketView }
	| { ok: false; code: 'refused'; refusal: { field: string; message: string } }
	| { ok: false; code: 'stale'; view: TicketView; changes: Conflict['changes'] };

/**
 * The ticket on the screen and the one way to change it. Changes are sent one after another, each with
 * the version that the last answer brought, so quick entry never conflicts with itself. A refused or
 * unsent change stays in `kept` and nothing typed is lost.
 */
export class TicketDesk {
	view = $state.raw() as TicketView;
	busy = $state(0);
	problem = $state<string | null>(null);
	conflict = $state.raw<Conflict | null>(null);
	/** a change that could not be sent: connection or database away */
	kept = $state.raw<{ change: TicketChangeInput; once: string } | null>(null);
	/** a plan that looked further ahead, for one version of the ticket */
	#further = $state.raw<{ number: string; version: number; plan: PlanView } | null>(null);
	thinking = $state(false);
	#line: Promise<unknown> = Promise.resolve();

	constructor(view: TicketView) {
		this.view = view;
	}

	/** The quick plan that came with the ticket, until the further one for the same state of it is there. */
	get plan(): PlanView {
		const further = this.#further;
		const { ticket, version, plan } = this.view;
		return further?.number === ticket.number && further.version === version ? further.plan : plan;
	}

	/** Asks for a plan that looks further ahead; what came too late for this state of the ticket is not shown. */
	async thinkFurther(signal: AbortSignal): Promise<void> {
		const { number } = this.view.ticket;
		this.thinking = true;
		try {
			const response = await fetch(`/tickets/${number}/plan`, { signal });
			if (response.ok) {
				this.#further = { number, ...((await response.json()) as { version: number; plan: PlanView }) };
			}
		} catch {
			// the quick plan stands
		} finally {
			if (!signal.aborted) this.thinking = false;
		}
	}

	/** Sends a change after those already under way. @returns true where it was made */
	send(change: TicketChangeInput, once = newOnce()): Promise<boolean> {
		this.busy += 1;
		const sent = this.#line.then(() => this.#post(change, once)).finally(() => (this.busy -= 1));
		this.#line = sent.catch(() => undefined);
		return sent;
	}

	/**
	 * Sends again what was held back: on top of what others did, or after the line came back; then under
	 * the same mark, since the first sending may have arrived without its answer.
	 */
	async again(): Promise<void> {
		const { conflict, kept } = this;
		this.conflict = this.kept = null;
		if (conflict) await this.send(conflict.change);
		else if (kept) await this.send(kept.change, kept.once);
	}

	/** Lets go of what was held back. */
	drop(): void {
		this.conflict = this.kept = this.problem = null;
	}

	async #post(change: TicketChangeInput, once: string): Promise<boolean> {
		this.problem = null;
		let answer: Answer | null = null;
		try {
			const response = await fetch(`/tickets/${this.view.ticket.number}/change`, {
				method: 'POST',
				headers: { 'content-type': 'application/json' },
				body: JSON.stringify({ version: this.view.version, once, change })
			});
			if ([200, 409, 422].includes(response.status)) answer = (await response.json()) as Answer;
			else this.problem = await wordsOf(response);
		} catch {
			this.problem = 'The server could not be reached. Your entry is kept; send it again.';
		}
		if (!answer) {
			this.kept = { change, once };
			return false;
		}
		return this.#take(answer, change);
	}

	#take(answer: Answer, change: TicketChangeInput): boolean {
		if ('view' in answer) this.view = answer.view;
		if (answer.ok) return true;
		if (answer.code === 'stale') this.conflict = { changes: answer.changes, change };
		else this.problem = `${answer.refusal.field}: ${answer.refusal.message}`;
		return false;
	}
}

async function wordsOf(response: Response): Promise<string> {
	if (response.status === 503) return 'The database is away. Your entry is kept; send it again in a moment.';
	const body = (await response.json().catch(() => ({}))) as { message?: string };
	return body.message ?? `The server answered ${response.status}. Your entry is kept; send it again.`;
}

const KEY = Symbol('ticket desk');
export const provideDesk = (desk: TicketDesk) => setContext(KEY, desk);
export const useDesk = () => getContext<TicketDesk>(KEY);
