import type { Knex } from 'knex';
import type { Catalog } from '$lib/core/catalog/catalog';
import { compareReadings } from '$lib/core/readings/compare';
import type { Mode, ReferenceRecord } from '$lib/core/readings/reference';
import {
	earlyKeys,
	promoteProvisional,
	provenReferences,
	provisionalReferences,
	readingKey,
	REFUTED,
	reopenedWords,
	struckWords,
	takenBackBy
} from '$lib/core/tickets/proven-references';
import { ruleOf, type TicketChange } from '$lib/core/tickets/ticket-change';
import { beforeRepair, PORT_OFF } from '$lib/core/units/stage';
import type { Ticket } from '$lib/core/tickets/ticket-record';
import type { Effect } from '$lib/core/tickets/verbs/verb';
import { formatInstant } from '$lib/core/units/instant';
import { putReferences } from '../catalog/commands';
import {
	allReferences,
	knownGoodShelf,
	referencesOf,
	settleReferences,
	type StoredReference
} from '../catalog/known-good';

/** What an effect is worked out from: the ticket before and after the change that it follows. */
interface Cause {
	trx: Knex.Transaction;
	previous: Ticket;
	after: Ticket;
	change: TicketChange;
	catalog: Catalog;
	now: number;
}

interface EffectOf {
	make(cause: Cause): Promise<void>;
	/** takes back what `make` did: what it added counts no more, what it changed is as it was */
	takeBack(cause: Cause): Promise<void>;
}

const EFFECTS: Record<Effect, EffectOf> = {
	'known good': { make: proveReadings, takeBack: unproveReadings },
	'provisional readings': { make: keepProvisional, takeBack: dropStruck }
};

/** What follows a change in the shop, in its transaction. */
export async function followUp(cause: Cause): Promise<void> {
	const { effects = [], undoes = [] } = ruleOf(cause.change.verb);
	for (const effect of undoes) await EFFECTS[effect].takeBack(cause);
	for (const effect of effects) await EFFECTS[effect].make(cause);
}

const contactOf = ({ pin, mode }: Pick<ReferenceRecord, 'pin' | 'mode'>) => `${pin} ${mode}`;
const entriesOf = (stored: readonly StoredReference[], references: readonly ReferenceRecord[]) =>
	stored.filter(({ reference }) => references.some((one) => readingKey(one) === readingKey(reference)));
const isProvisional = ({ reference }: StoredReference) =>
	reference.grade === 'provisional' && !reference.withdrawn;

/** What a device that passed every gate makes known good: its last readings, and its own provisional ones if they hold. */
async function proveReadings({ trx, after: current, now }: Cause): Promise<void> {
	const proven = provenReferences(current);
	if (proven.length === 0) return;
	const references = await referencesOf(trx, current);
	const matching = references.filter(({ reference }) =>
		proven.some((one) => readingKey(one) === readingKey(reference))
	);
	const back = matching.filter(
		({ reference }) => reference.withdrawn?.because === reopenedWords(current.number)
	);
	const provisional = references.filter(isProvisional);
	const { promoted, refuted } = promoteProvisional(
		provisional.map(({ reference }) => reference),
		proven
	);
	await settleReferences(trx, [
		{ entries: back, withdrawn: null },
		{ entries: entriesOf(provisional, promoted), grade: 'verified' },
		{
			entries: entriesOf(provisional, refuted),
			withdrawn: { at: formatInstant(now), because: REFUTED }
		}
	]);
	// a reading that was promoted, or is known already, is that board: it must not count twice
	const contacts = new Set([...matching.map(({ reference }) => reference), ...promoted].map(contactOf));
	await putReferences(
		trx,
		proven.filter((reference) => !contacts.has(contactOf(reference)))
	);
}

async function unproveReadings({ trx, previous, now }: Cause): Promise<void> {
	const references = await referencesOf(trx, previous);
	const { unproven, demoted, restored } = takenBackBy(
		references.map(({ reference }) => reference),
		previous
	);
	await settleReferences(trx, [
		{
			entries: entriesOf(references, unproven),
			withdrawn: { at: formatInstant(now), because: reopenedWords(previous.number) }
		},
		{ entries: entriesOf(references, demoted), grade: 'provisional' },
		{ entries: entriesOf(references, restored), withdrawn: null }
	]);
}

/**
 * Readings of a board with a fault that agree with what is known stand in until there are better ones; one that was struck
 * out stands in again when it is put back.
 */
async function keepProvisional({ trx, after: current, change, catalog }: Cause): Promise<void> {
	if (change.verb === 'put-back') {
		const earlyContacts = earlyKeys(current);
		const back = (await referencesOf(trx, current)).filter(
			({ reference }) =>
				reference.withdrawn?.because === struckWords(current.number) &&
				earlyContacts.has(readingKey(reference))
		);
		return settleReferences(trx, [{ entries: back, withdrawn: null }]);
	}
	const { mode, pins: stoodFor } = change as { mode: Mode; pins?: readonly string[] };
	const connector = catalog.connectors.get(catalog.models.get(current.model)?.connector ?? '');
	if (!connector) return;
	const early = current.readings.filter(({ stage }) => beforeRepair(stage) && stage !== PORT_OFF);
	const { book } = knownGoodShelf(await allReferences(trx), catalog);
	const { pins, nets } = compareReadings(connector, early, book(current.model));
	const dissenting = new Set(nets.flatMap(({ dissenting }) => dissenting));
	const provisional = (await referencesOf(trx, current)).filter(isProvisional);
	const contacts = new Set(provisional.map(({ reference }) => contactOf(reference)));
	const kept = provisionalReferences(current, mode, pins, dissenting).filter(
		({ pin }) => stoodFor?.includes(pin) ?? true
	);
	await putReferences(
		trx,
		kept.filter((reference) => !contacts.has(contactOf(reference)))
	);
}

/** A provisional reading stands in as long as it stands on its ticket. */
async function dropStruck({ trx, after: current, change, now }: Cause): Promise<void> {
	if (change.verb !== 'withdraw' || change.list !== 'readings') return;
	const earlyContacts = earlyKeys(current);
	const struck = (await referencesOf(trx, current)).filter(
		(entry) => isProvisional(entry) && !earlyContacts.has(readingKey(entry.reference))
	);
	const withdrawn = { at: formatInstant(now), because: struckWords(current.number) };
	await settleReferences(trx, [{ entries: struck, withdrawn }]);
}
