import { getContext, setContext } from 'svelte';
import { gateStates } from '$lib/core/bench/gates';
import { buildCatalog } from '$lib/core/catalog/catalog';
import { heldFor, waitingFor, withWaiting } from '$lib/core/tickets/outbox';
import type { TicketChangeInput, Verb } from '$lib/core/tickets/ticket-change';
import type { StrikableList } from '$lib/core/tickets/ticket-record';
import { mayChange, mayStrike } from '$lib/core/tickets/verb-roles';
import type { Role } from '$lib/core/units/role';
import type { PlanView } from '$lib/server/tickets/plan-view';
import type { TicketView } from '$lib/server/tickets/view';
import type { OutboxState } from '../ui/outbox.svelte';

const NOTHING_KNOWN = buildCatalog([]);

/**
 * The ticket on the screen and the one way to change it: every change goes through the outbox, which sends one after
 * another, each with the version that it will meet, so quick entry never conflicts with itself and nothing typed is lost.
 */
export class TicketDesk {
	/** the ticket as the server has it, with odds, plan and price */
	view = $state.raw() as TicketView;
	#outbox: OutboxState;
	readonly #role: Role;
	/** a plan that looked further ahead, for one version of the ticket */
	#further = $state.raw<{ number: string; version: number; plan: PlanView } | null>(null);
	thinking = $state(false);

	constructor(view: TicketView, outbox: OutboxState, role: Role) {
		this.view = view;
		this.#outbox = outbox;
		this.#role = role;
	}

	/** entered and not confirmed yet, in order; and those that somebody has to decide on */
	waiting = $derived.by(() => waitingFor(this.#outbox.entries, this.view.ticket.number));
	held = $derived.by(() => heldFor(this.#outbox.entries, this.view.ticket.number));
	/** the ticket with what was entered and waits: those entries stand at the ends of their lists */
	ticket = $derived.by(() => withWaiting(this.view.ticket, this.waiting, NOTHING_KNOWN));
	gates = $derived.by(() =>
		gateStates(this.ticket, { gates: new Map(this.view.gates.map((gate) => [gate.code, gate])) })
	);

	/** True where an entry of a list is not confirmed yet. */
	isWaiting(list: StrikableList, index: number): boolean {
		return index >= this.view.ticket[list].length;
	}

	get line() {
		return this.#outbox.line;
	}
	get full() {
		return this.#outbox.full;
	}

	/** True where the ticket is open and the role of who is signed in may do this. */
	may(verb: Verb): boolean {
		return this.view.ticket.closedAt === null && mayChange(this.#role, verb);
	}
	mayWhenClosed = (verb: Verb) => mayChange(this.#role, verb);
	mayStrike(list: StrikableList): boolean {
		return this.view.ticket.closedAt === null && mayStrike(this.#role, list);
	}

	/** True where a struck entry may be put back, by its place among them. */
	mayPutBack(index: number): boolean {
		const list = this.view.ticket.struck[index]?.list;
		return list !== undefined && this.mayStrike(list);
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

	/**
	 * Enters a change. @returns true where it was made or is kept until the line is back, false where it was refused or
	 * somebody else was first; then it is held until somebody decides
	 */
	send(change: TicketChangeInput): Promise<boolean> {
		return this.#outbox.add(this.view.ticket.number, change, this.view.version);
	}

	/** Enters a change of another ticket, before what is entered here next. */
	sendTo(number: string, version: number, change: TicketChangeInput): Promise<boolean> {
		return this.#outbox.add(number, change, version);
	}

	/** Sends a held entry after all: on top of what others did, or once more. */
	again(once: string): void {
		this.#outbox.again(once, this.view.version);
	}

	/** Lets a held or waiting entry go. */
	drop(once: string): void {
		this.#outbox.drop(once);
	}

	/** Follows the ticket: each answer of the server is the new state of the screen. @returns how to stop */
	follow(): () => void {
		return this.#outbox.hear(this.view.ticket.number, (view) => {
			if (view.version >= this.view.version) this.view = view;
		});
	}
}

const KEY = Symbol('ticket desk');
export const provideDesk = (desk: TicketDesk) => setContext(KEY, desk);
export const useDesk = () => getContext<TicketDesk>(KEY);
