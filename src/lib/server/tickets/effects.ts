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
import { beforeRepair } from '$lib/core/units/stage';
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
	before: Ticket;
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
const entriesOf = (stored: readonly StoredReference[], some: readonly ReferenceRecord[]) =>
	stored.filter(({ reference }) => some.some((one) => readingKey(one) === readingKey(reference)));
const isProvisional = ({ reference }: StoredReference) =>
	reference.grade === 'provisional' && !reference.withdrawn;

/** What a device that passed every gate makes known good: its last readings, and its own provisional ones if they hold. */
async function proveReadings({ trx, after, now }: Cause): Promise<void> {
	const proven = provenReferences(after);
	if (proven.length === 0) return;
	const own = await referencesOf(trx, after);
	const known = own.filter(({ reference }) =>
		proven.some((one) => readingKey(one) === readingKey(reference))
	);
	const back = known.filter(({ reference }) => reference.withdrawn?.because === reopenedWords(after.number));
	const provisional = own.filter(isProvisional);
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
	const there = new Set([...known.map(({ reference }) => reference), ...promoted].map(contactOf));
	await putReferences(
		trx,
		proven.filter((reference) => !there.has(contactOf(reference)))
	);
}

async function unproveReadings({ trx, before, now }: Cause): Promise<void> {
	const own = await referencesOf(trx, before);
	const { unproven, demoted, restored } = takenBackBy(
		own.map(({ reference }) => reference),
		before
	);
	await settleReferences(trx, [
		{
			entries: entriesOf(own, unproven),
			withdrawn: { at: formatInstant(now), because: reopenedWords(before.number) }
		},
		{ entries: entriesOf(own, demoted), grade: 'provisional' },
		{ entries: entriesOf(own, restored), withdrawn: null }
	]);
}

/**
 * Readings of a board with a fault that agree with what is known stand in until there are better ones; one that was struck
 * out stands in again when it is put back.
 */
async function keepProvisional({ trx, after, change, catalog }: Cause): Promise<void> {
	if (change.verb === 'put-back') {
		const standing = earlyKeys(after);
		const back = (await referencesOf(trx, after)).filter(
			({ reference }) =>
				reference.withdrawn?.because === struckWords(after.number) && standing.has(readingKey(reference))
		);
		return settleReferences(trx, [{ entries: back, withdrawn: null }]);
	}
	const { mode, pins: stoodFor } = change as { mode: Mode; pins?: readonly string[] };
	const connector = catalog.connectors.get(catalog.models.get(after.model)?.connector ?? '');
	if (!connector) return;
	const early = after.readings.filter(({ stage }) => beforeRepair(stage));
	const { book } = knownGoodShelf(await allReferences(trx), catalog);
	const { pins, nets } = compareReadings(connector, early, book(after.model));
	const dissenting = new Set(nets.flatMap(({ dissenting }) => dissenting));
	const own = (await referencesOf(trx, after)).filter(isProvisional);
	const there = new Set(own.map(({ reference }) => contactOf(reference)));
	const kept = provisionalReferences(after, mode, pins, dissenting).filter(
		({ pin }) => stoodFor?.includes(pin) ?? true
	);
	await putReferences(
		trx,
		kept.filter((reference) => !there.has(contactOf(reference)))
	);
}

/** A provisional reading stands in as long as it stands on its ticket. */
async function dropStruck({ trx, after, change, now }: Cause): Promise<void> {
	if (change.verb !== 'withdraw' || change.list !== 'readings') return;
	const standing = earlyKeys(after);
	const struck = (await referencesOf(trx, after)).filter(
		(entry) => isProvisional(entry) && !standing.has(readingKey(entry.reference))
	);
	const withdrawn = { at: formatInstant(now), because: struckWords(after.number) };
	await settleReferences(trx, [{ entries: struck, withdrawn }]);
}
