import { getContext, setContext } from 'svelte';
import { gateStates } from '$lib/core/bench/gates';
import { buildCatalog } from '$lib/core/catalog/catalog';
import { heldFor, waitingFor, withWaiting } from '$lib/core/tickets/outbox';
import type { TicketChangeInput, Verb } from '$lib/core/tickets/ticket-change';
import type { StrikableList } from '$lib/core/tickets/ticket-entries';
import { mayChange, mayStrike } from '$lib/core/tickets/verb-roles';
import type { Role } from '$lib/core/units/role';
import { stageNow } from '$lib/core/units/stage';
import type { PlanView } from '$lib/core/diagnosis/plan/plan-view';
import { withSlice, withSplice } from '$lib/core/tickets/slices';
import type { TicketView, ViewSlices } from '$lib/server/tickets/view';
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
	readonly #missed: () => void;
	/** what was asked for when the hand rested, for one version of the ticket */
	#late = $state.raw<Late | null>(null);
	/** the price in the view is that of an earlier version */
	#priceIsBehind = false;
	thinking = $state(false);

	/** @param missed asks for the whole ticket, where a change of somebody else lies in between */
	constructor(view: TicketView, outbox: OutboxState, role: Role, missed: () => void) {
		this.view = view;
		this.#outbox = outbox;
		this.#role = role;
		this.#missed = missed;
	}

	/** entered and not confirmed yet, in order; and those that somebody has to decide on */
	waiting = $derived.by(() => waitingFor(this.#outbox.entries, this.view.ticket.number));
	held = $derived.by(() => heldFor(this.#outbox.entries, this.view.ticket.number));
	/** the ticket with what was entered and waits: those entries stand at the ends of their lists */
	ticket = $derived.by(() => withWaiting(this.view.ticket, this.waiting, NOTHING_KNOWN));
	gates = $derived.by(() =>
		gateStates(this.ticket, {
			gates: new Map(
				this.view.gates.map((gate) => [
					gate.code,
					{ ...gate, shown_by: gate.shownBy, words: gate.parts.map(({ word }) => word) }
				])
			),
			operations: new Map(Object.entries(this.view.undoes).map(([code, undoes]) => [code, { undoes }]))
		})
	);

	/** the moment that what is entered now belongs to */
	stage = $derived.by(() => this.view.stageOfRun ?? stageNow(this.ticket.attempts, this.view.takesOff));

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

	/** What was asked for this very state of the ticket; nothing of an earlier one. */
	get #after(): Partial<Late> {
		const { ticket, version } = this.view;
		return this.#late?.number === ticket.number && this.#late.version === version ? this.#late : {};
	}
	/** The quick plan that came with the ticket, until the further one is there. */
	get plan(): PlanView {
		return this.#after.plan ?? this.view.plan;
	}
	get price(): TicketView['price'] {
		return this.#after.price ?? this.view.price;
	}
	get odds(): TicketView['odds'] {
		return this.#after.odds ?? this.view.odds;
	}

	/** Asks for what follows a change; what came too late for this state of the ticket is not shown. */
	async #ask(slice: 'plan' | 'price' | 'reasons', signal: AbortSignal | null = null): Promise<void> {
		const { number } = this.view.ticket;
		try {
			const response = await fetch(`/tickets/${number}/${slice}`, { signal });
			if (!response.ok) return;
			const answer = (await response.json()) as Omit<Late, 'number'>;
			if (answer.version === this.view.version) this.#late = { ...this.#after, number, ...answer };
		} catch {
			// what stands there stands
		}
	}

	/** Asks for a plan that looks further ahead. */
	async thinkFurther(signal: AbortSignal): Promise<void> {
		this.thinking = true;
		await this.#ask('plan', signal);
		if (!signal.aborted) this.thinking = false;
	}
	/** The price that follows from what was entered. */
	async askPrice(signal: AbortSignal): Promise<void> {
		if (this.#priceIsBehind) await this.#ask('price', signal);
	}
	/** Every reason behind the odds. */
	async askReasons(): Promise<void> {
		if (this.odds.faults.some(({ more: details }) => details !== null)) await this.#ask('reasons');
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
		return this.#outbox.hear(this.view.ticket.number, (state) => {
			if ('view' in state) {
				if (state.view.version < this.view.version) return;
				this.view = state.view;
				this.#priceIsBehind = false;
			} else if (state.slices.version === this.view.version + 1) {
				this.view = withSlices(this.view, state.slices);
				this.#priceIsBehind = state.slices.beside.price === undefined;
			} else if (state.slices.version > this.view.version) this.#missed();
		});
	}
}

interface Late {
	number: string;
	version: number;
	plan?: PlanView;
	price?: TicketView['price'];
	odds?: TicketView['odds'];
}

/** A view with what one change made of it. */
function withSlices(
	view: TicketView,
	{ ticket, trail, version, beside: slices, ...rest }: ViewSlices
): TicketView {
	return {
		...view,
		...slices,
		...rest,
		version,
		ticket: withSlice(view.ticket, ticket),
		trail: trail ? withSplice(view.trail, trail) : view.trail
	};
}

const KEY = Symbol('ticket desk');
export const provideDesk = (desk: TicketDesk) => setContext(KEY, desk);
export const useDesk = () => getContext<TicketDesk>(KEY);
