import { BENCH_ROLES, ROLES } from '../../units/role';
import { AT_WORK, TO_FETCH } from '../states';
import { z } from 'zod';
import { openRun } from '../../bench/procedure-run';
import { screwsAmiss } from '../../bench/screw-map';
import { gateStates } from '../../bench/gates';
import { fittingPart, procedureAt, type Catalog } from '../../catalog/catalog';
import { procedureKey, type ProcedureStep } from '../../catalog/kinds-of-bench';
import { codeSchema } from '../../units/code';
import { MINUTE_MS } from '../../units/instant';
import { photoRecord, PHOTO_OF, SCREW_MOVES, STEP_DONE } from '../bench-entries';
import { collectedAt } from '../money';
import { leftToRead, leftWords, stageOfRun } from '../port-off-step';
import { refuse, type Changed } from '../refusal';
import { ASKED_BY, FOUND_AFTER } from '../ticket-entries';
import type { Ticket } from '../ticket-record';
import { indexField, instantField, remarkField, verb, withEntries, type ChangeContext } from './verb';
import { logWork, partUse, stopHands } from './work';

/** Procedures followed at the bench, heat, joints, screws, pictures; a device closed up, its customer told and asked again. */

interface StepChange {
	procedure: string;
	version: number;
	step: number;
	did: (typeof STEP_DONE)[number];
	technician: string;
	why?: string | undefined;
	passed?: boolean | undefined;
	resolved?: boolean | undefined;
	part?: boolean | undefined;
}

/** A step of a procedure: begins or goes on with a run, is done or left out, ends it; what the step is for follows in the same entry. */
function followStep(ticket: Ticket, change: StepChange, context: ChangeContext): Changed {
	const followed = procedureAt(context.catalog, change.procedure, change.version);
	if (!followed) return refuse('procedure', `${change.procedure} ${change.version} is not in the catalog`);
	const open = openRun(ticket.steps);
	if (open && open.procedure !== followed.code) {
		return refuse(
			'procedure',
			`is ${followed.code}; ${open.procedure} is still being followed here: end it first`
		);
	}
	if (open && open.version !== followed.version) {
		return refuse(
			'version',
			`is ${followed.version}; this run follows version ${open.version}, go on with that`
		);
	}
	if (change.did === 'begun') return beginOrGoOn(ticket, change, open?.next ?? 0, context);
	if (!open) return refuse('did', `is ${change.did}; the procedure has not been begun`);
	if (change.did === 'ended') return endRun(ticket, change, open.next, followed, context);
	const step = followed.steps[change.step];
	if (!step || change.step !== open.next) {
		return refuse(
			'step',
			`is ${change.step + 1}; the next one is ${Math.min(open.next + 1, followed.steps.length)}`
		);
	}
	if (change.did === 'skipped') {
		// what is to be read with the old port off may be left out for a reason; what must be so, or protects somebody, may not
		if (step.must && stageOfRun(ticket, context.catalog) === null)
			return refuse('did', `leaves out a step that must be answered: ${step.says}`);
		if (!change.why) return refuse('why', 'is missing; say why the step is left out');
		return withStep(ticket, change, context);
	}
	return stepDone(ticket, change, step, context);
}

function beginOrGoOn(ticket: Ticket, change: StepChange, next: number, context: ChangeContext): Changed {
	if (change.step !== next) return refuse('step', `is ${change.step + 1}; it goes on with step ${next + 1}`);
	const { technician } = change;
	if (ticket.running.some((running) => running.technician === technician)) {
		return refuse('technician', `${technician} has a timer running on ${ticket.number}; stop it first`);
	}
	const { operation = '' } = procedureAt(context.catalog, change.procedure, change.version) ?? {};
	const begun = withStep(ticket, change, context);
	return { ...begun, running: [...ticket.running, { operation, technician, startedAt: context.now }] };
}

/** Hands that were at it since the last entry of theirs; nothing where their timer does not run. */
function handsMinutes(
	ticket: Ticket,
	{ technician }: StepChange,
	{ now }: ChangeContext
): number | undefined {
	const timer = ticket.running.find((running) => running.technician === technician);
	if (!timer) return undefined;
	const last = ticket.steps.findLast((entry) => entry.technician === technician)?.at ?? 0;
	return Math.round(((now - Math.max(timer.startedAt, last)) / MINUTE_MS) * 10) / 10;
}

function withStep(ticket: Ticket, change: StepChange, context: ChangeContext): Ticket {
	const { procedure, version, step, did: action, technician, why: reason } = change;
	const minutes = action === 'begun' ? undefined : handsMinutes(ticket, change, context);
	return withEntries(ticket, 'steps', {
		procedure,
		version,
		step,
		did: action,
		technician,
		...(minutes === undefined ? {} : { minutes }),
		...(reason ? { why: reason } : {}),
		at: context.now,
		by: context.by
	});
}

function stepDone(ticket: Ticket, change: StepChange, step: ProcedureStep, context: ChangeContext): Changed {
	const stamp = { at: context.now, by: context.by };
	const changed = withStep(ticket, change, context);
	if (stageOfRun(ticket, context.catalog) !== null) {
		const points = context.catalog.models.get(ticket.model)?.points ?? [];
		const unread = leftWords(leftToRead(ticket, points));
		if (unread !== null)
			return refuse('did', `comes too early, ${unread}. Enter it, or leave the step out and say why`);
	}
	if (step.kind === 'gate' && step.gate) {
		if (change.passed === undefined) return refuse('passed', 'is missing; say whether the check was passed');
		return withEntries(changed, 'gates', { gate: step.gate, passed: change.passed, ...stamp });
	}
	if (step.kind === 'part' && step.sku) {
		const sku = fittingPart(context.catalog.parts, step.sku, ticket.model);
		return withEntries(changed, 'parts', partUse({ sku, quantity: step.quantity ?? 1 }, context));
	}
	if (step.kind === 'wait' && step.wait) {
		const until = context.now + (step.minutes ?? 0) * MINUTE_MS;
		const waiting = {
			...changed,
			waits: [...changed.waits, { for: step.wait, until, note: step.says, ...stamp }]
		};
		// hands are free while it waits: what they did until now is kept
		return stopHands(waiting, change.technician, { part: true, resolved: false }, context);
	}
	return changed;
}

/** The caution that stands before the heat of the procedure that is followed and has not been answered; null where none does. */
function unanswered(ticket: Ticket, catalog: Catalog): string | null {
	const open = openRun(ticket.steps);
	const steps = (open && procedureAt(catalog, open.procedure, open.version)?.steps) ?? [];
	const firstHeat = steps.findIndex(({ kind }) => kind === 'heat');
	const skippedSteps = steps.slice(open?.next, Math.max(0, firstHeat));
	return skippedSteps.find(({ kind, must }) => kind === 'caution' && must)?.says ?? null;
}

/** The run is over: its timers stop, and the work is an attempt of its operation. */
function endRun(
	ticket: Ticket,
	change: StepChange,
	next: number,
	followed: { steps: readonly ProcedureStep[]; operation: string },
	context: ChangeContext
): Changed {
	const { technician, resolved = false, part = false } = change;
	if (part && resolved)
		return refuse('part', 'is true, and so is resolved; what makes the complaint go ends the work');
	const stepsLeft = followed.steps.length - next;
	if (stepsLeft > 0 && !change.why) {
		return refuse('why', `is missing; ${stepsLeft} steps are left: say why it ends before them`);
	}
	const ended = withStep(ticket, change, context);
	const otherTimers = ticket.running.filter(
		(running) => running.operation === followed.operation && running.technician !== technician
	);
	const stopped = otherTimers.reduce(
		(now, running) => stopHands(now, running.technician, { part: true, resolved: false }, context),
		ended
	);
	const result = { resolved, ...(part ? { part } : {}) };
	const timed = stopped.running.some((running) => running.technician === technician);
	const changed = timed
		? stopHands(stopped, technician, result, context)
		: // the hands' minutes were kept when the last wait began
			logWork(stopped, { operation: followed.operation, technician, minutes: 0, ...result }, [], context);
	const at = workedAt(ticket, followed.steps) ?? context.now;
	return {
		...changed,
		attempts: changed.attempts.map((attempt, i, all) => (i === all.length - 1 ? { ...attempt, at } : attempt))
	};
}

/** When the run that is open last changed what checks look at: those that were passed after it stand when it ends. */
function workedAt(ticket: Ticket, steps: readonly ProcedureStep[]): number | undefined {
	const changes = ({ kind, undoes = [] }: ProcedureStep) =>
		kind === 'heat' || kind === 'part' || undoes.length > 0;
	return openRun(ticket.steps)?.entries.findLast(({ did: action, step }) => {
		const stepInfo = steps[step];
		return action === 'done' && stepInfo !== undefined && changes(stepInfo);
	})?.at;
}

/** Nothing is sealed that was not proved, nor with a screw that is not in its place. */
function seal(
	ticket: Ticket,
	{ despite }: { despite?: string | undefined },
	context: ChangeContext
): Changed {
	const { catalog, now, by: author } = context;
	const open = gateStates(ticket, catalog).filter(
		({ when: phase, passed }) => phase === 'before-sealing' && passed !== true
	);
	if (open.length > 0) {
		return refuse('gates', `not passed before sealing: ${open.map(({ label }) => label).join('; ')}`);
	}
	const amiss = screwsAmiss(ticket.screws, catalog.models.get(ticket.model)?.screws ?? []);
	if (amiss.length > 0 && !despite) {
		return refuse('screws', `${amiss.join('; ')}. Find it, or say why it is sealed all the same`);
	}
	const note = despite
		? withEntries(ticket, 'notes', {
				text: `Sealed with ${amiss.join('; ')}: ${despite}`,
				at: now,
				by: author
			})
		: ticket;
	return withEntries(note, 'dealings', { kind: 'seal', at: now, by: author });
}

const technician = codeSchema;

export const VERBS_OF_THE_BENCH = {
	step: verb({
		says: 'record a step of a procedure',
		shown: 'when kept',
		moves: { from: AT_WORK, to: AT_WORK, button: 'of a panel' },
		shape: {
			procedure: codeSchema,
			version: z.int().min(1).max(100_000),
			step: z.int().min(0).max(99),
			did: z.enum(STEP_DONE),
			technician,
			why: remarkField.optional(),
			/** of a step that is a check */
			passed: z.boolean().optional(),
			/** of an end: whether the fault is fixed, or it was part of the work */
			resolved: z.boolean().optional(),
			part: z.boolean().optional()
		},
		roles: BENCH_ROLES,
		makes: 'steps',
		refers({ procedure, version, technician: technicianCode }, need) {
			need.code('procedure', 'procedure', procedureKey(procedure, version));
			need.code('technician', 'technician', technicianCode);
		},
		apply: (ticket, change, _, context) => followStep(ticket, change, context)
	}),
	heat: verb({
		says: 'record heat',
		shown: 'at once',
		moves: null,
		shape: { on: z.boolean(), seconds: z.number().min(0).max(36_000).optional() },
		roles: BENCH_ROLES,
		makes: 'heat',
		apply(ticket, { on, seconds }, stamp, { catalog }) {
			const openChecks = on ? unanswered(ticket, catalog) : null;
			if (openChecks) return refuse('on', `comes after a step that must be answered first: ${openChecks}`);
			const isOn = ticket.heat.at(-1)?.on ?? false;
			if (on === isOn) return refuse('on', `is ${on}; heat is ${isOn ? 'on' : 'off'} already`);
			return withEntries(ticket, 'heat', {
				on,
				...(seconds === undefined || on ? {} : { seconds }),
				...stamp
			});
		}
	}),
	screw: verb({
		says: 'record screws',
		shown: 'at once',
		moves: null,
		shape: { places: z.array(codeSchema).min(1).max(60), did: z.enum(SCREW_MOVES) },
		roles: BENCH_ROLES,
		makes: 'screws',
		apply(ticket, { places, did: action }, stamp, { catalog }) {
			const model = catalog.models.get(ticket.model);
			const isScrew = (code: string) => model?.screws?.some((screw) => screw.place === code) ?? false;
			// a screen that knows no catalog shows it at once; the server checks
			const odd = model && places.find((code) => !isScrew(code));
			return odd === undefined
				? withEntries(ticket, 'screws', ...places.map((code) => ({ place: code, did: action, ...stamp })))
				: refuse('places', `names ${odd}, which the map of ${ticket.model} does not hold`);
		}
	}),
	photo: verb({
		says: 'add a picture',
		shown: 'when kept',
		moves: null,
		shape: {
			photo: photoRecord.shape.photo,
			of: z.enum(PHOTO_OF),
			width: photoRecord.shape.width,
			height: photoRecord.shape.height,
			says: remarkField.optional()
		},
		roles: ROLES,
		makes: 'photos',
		ofClosed: true,
		apply: (ticket, { says, ...photo }, stamp) =>
			withEntries(ticket, 'photos', { ...photo, ...(says ? { says } : {}), ...stamp })
	}),
	/** Shows a picture to the customer on the page of their device, or takes it back. */
	release: verb({
		says: 'show a picture to the customer',
		shown: 'when kept',
		moves: null,
		shape: { index: indexField, released: z.boolean() },
		roles: ROLES,
		ofClosed: true,
		apply(ticket, { index, released }) {
			if (!ticket.photos[index]) {
				return refuse(
					'index',
					`is ${index}; the ticket has ${ticket.photos.length} pictures, counted from 0`
				);
			}
			const photos = ticket.photos.map((photo, i) => {
				if (i !== index) return photo;
				const { released: _, ...photoLeft } = photo;
				return released ? { ...photoLeft, released: true as const } : photoLeft;
			});
			return { ...ticket, photos };
		}
	}),
	/** Puts the next work in its place in the day, or lets the plan decide again. */
	pin: verb({
		says: 'pin a task in the plan',
		shown: 'when kept',
		moves: null,
		shape: { to: z.strictObject({ technician, startAt: instantField }).nullable() },
		roles: BENCH_ROLES,
		refers: ({ to }, need) => need.code('to', 'technician', to?.technician),
		apply(ticket, { to }) {
			const { pinned: _, ...unpinned } = ticket;
			return to ? { ...unpinned, pinned: to } : unpinned;
		}
	}),
	seal: verb({
		says: 'seal the device',
		shown: 'when kept',
		moves: {
			from: AT_WORK,
			to: ['sealed', 'waiting', 'quoted'],
			button: [{ states: ['proved'], label: 'Seal', leads: true, body: {} }]
		},
		shape: { despite: remarkField.optional() },
		roles: BENCH_ROLES,
		apply: (ticket, change, _, context) => seal(ticket, change, context)
	}),
	tell: verb({
		says: 'record that the customer was told',
		shown: 'when kept',
		moves: {
			from: TO_FETCH,
			to: ['told', 'paid'],
			button: [
				{ states: ['ready'], label: 'Told by telephone', body: { how: 'telephone' } },
				{ states: ['ready'], label: 'Told by message', body: { how: 'message' } }
			]
		},
		shape: { how: z.enum(ASKED_BY) },
		roles: ROLES,
		ofClosed: true,
		apply(ticket, { how: channel }, stamp) {
			if (ticket.closedAt === null)
				return refuse('ticket', `${ticket.number} is open; it is ready when it is closed`);
			if (collectedAt(ticket) !== null) return refuse('ticket', `${ticket.number} was handed back already`);
			return withEntries(ticket, 'dealings', { kind: 'told', how: channel, ...stamp });
		}
	}),
	'follow-up': verb({
		says: 'record a follow-up call',
		shown: 'when kept',
		moves: {
			from: ['handed-over', 'followed-up'],
			to: ['handed-over', 'followed-up'],
			button: [
				{ states: ['handed-over'], label: 'Working', body: { found: 'holds' } },
				{ states: ['handed-over'], label: 'Problem', body: { found: 'trouble' } },
				{ states: ['handed-over'], label: 'No answer', body: { found: 'not-reached' } }
			]
		},
		shape: { found: z.enum(FOUND_AFTER), said: remarkField.optional() },
		roles: ROLES,
		ofClosed: true,
		apply(ticket, { found, said: text }, stamp) {
			if (collectedAt(ticket) === null) {
				return refuse(
					'ticket',
					`${ticket.number} was not handed back yet; the customer cannot say how it does`
				);
			}
			return withEntries(ticket, 'dealings', {
				kind: 'follow-up',
				followedUp: found,
				...(text ? { reason: text } : {}),
				...stamp
			});
		}
	})
};
