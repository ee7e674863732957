import { openRun, type Run } from '$lib/core/bench/procedure-run';
import type { Procedure } from '$lib/core/catalog/catalog';
import type { ProcedureStep } from '$lib/core/catalog/kinds-of-bench';
import { leftToRead, leftWords } from '$lib/core/tickets/port-off-step';
import type { StepEntry, Waiting } from '$lib/core/tickets/ticket-record';
import { waitsNow } from '$lib/core/tickets/waits';
import type { TicketDesk } from '../ticket/desk.svelte';

/** A procedure that is being followed on one ticket: where it stands, and what Enter does next. */
export class RunBoard {
	/** whose hands */
	technician = $state('');
	/** an answer is being saved: until it is, a second Enter (a double press) is not taken */
	busy = $state(false);
	readonly #desk: TicketDesk;
	readonly #followed: () => Procedure | null;

	constructor(desk: TicketDesk, followed: () => Procedure | null, technician: string) {
		this.#desk = desk;
		this.#followed = followed;
		this.technician = technician;
	}

	run: Run<StepEntry> | null = $derived.by(() => openRun(this.#desk.ticket.steps));
	steps: readonly ProcedureStep[] = $derived.by(() => this.#followed()?.steps ?? []);
	/** place of the step that is next */
	at = $derived.by(() => this.run?.next ?? 0);
	step: ProcedureStep | null = $derived.by(() => this.steps[this.at] ?? null);
	/** steps that were done or left out, in their order */
	answered = $derived.by(() =>
		(this.run?.entries ?? []).flatMap((entry) => {
			const step = this.steps[entry.step];
			return step && (entry.did === 'done' || entry.did === 'skipped') ? [{ step, entry }] : [];
		})
	);
	/** hands of the one who works here are being timed */
	timed = $derived.by(() =>
		this.#desk.ticket.running.some(({ technician }) => technician === this.technician)
	);
	/** the wait that the last step began and nobody has ended */
	wait: Waiting | null = $derived.by(() => {
		const previous = this.steps[this.at - 1];
		if (previous?.kind !== 'wait') return null;
		return waitsNow(this.#desk.ticket).find(({ for: waitFor }) => waitFor === previous.wait) ?? null;
	});
	/** what Enter does */
	doing: 'begin' | 'end-wait' | 'go-on' | 'step' | 'end' = $derived.by(() => {
		if (!this.run) return 'begin';
		if (this.wait) return 'end-wait';
		if (!this.step) return 'end';
		return this.timed ? 'step' : 'go-on';
	});

	/** what is to be measured before the step at hand is done, in words; null where it may be done */
	left: string | null = $derived.by(() => {
		const { view, ticket } = this.#desk;
		if (this.doing !== 'step' || view.stageOfRun === null) return null;
		return leftWords(leftToRead(ticket, view.about.points ?? []));
	});

	/** Enter: begins, goes on, does the step that stands large on the screen. */
	async next(passed = true): Promise<void> {
		switch (this.doing) {
			case 'begin':
			case 'go-on':
				return this.#send('begun');
			case 'end-wait':
				if (this.wait)
					await this.#lock(() => this.#desk.send({ verb: 'end-wait', for: this.wait?.for ?? 'cure' }));
				return this.step ? this.#send('begun') : undefined;
			case 'step':
				if (this.left !== null) return undefined;
				return this.#send('done', this.step?.kind === 'gate' ? { passed } : {});
			case 'end':
				return undefined;
		}
	}

	leaveOut(reason: string): Promise<void> {
		return this.#send('skipped', { why: reason });
	}

	end(result: { resolved: boolean; part?: boolean }, reason = ''): Promise<void> {
		return this.#send('ended', { ...result, ...(reason ? { why: reason } : {}) });
	}

	#send(action: StepEntry['did'], details: object = {}): Promise<void> {
		const followed = this.#followed();
		if (!followed) return Promise.resolve();
		const { code: procedure, version } = followed;
		const step = Math.min(this.at, followed.steps.length - 1);
		const at = action === 'begun' ? this.at : step;
		return this.#lock(() =>
			this.#desk.send({
				verb: 'step',
				procedure,
				version,
				step: at,
				did: action,
				technician: this.technician,
				...details
			})
		);
	}

	async #lock(send: () => Promise<unknown>): Promise<void> {
		if (this.busy) return;
		this.busy = true;
		try {
			await send();
		} finally {
			this.busy = false;
		}
	}
}
