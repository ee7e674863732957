import { simulateShop } from '$lib/core/simulation/demo-shop';
import { ticketChangeSchema, type TicketChangeInput } from '$lib/core/tickets/ticket-change';
import type { Database } from '$lib/server/database/connection';
import { importLines } from '$lib/server/exchange/import';
import { addUser } from '$lib/server/identity/users';
import { changeTicket } from '$lib/server/tickets/change-ticket';
import { findTicket } from '$lib/server/tickets/queries';
import { takeIn, takeInBody } from '$lib/server/tickets/take-in';
import { freshDatabase } from './fresh-database';

/** A simulated shop of three hundred tickets with one technician who signs in: what tests of changes begin with. */

export const NOW = Date.UTC(2026, 10, 24, 10);
export const ines = { by: 'ines', name: 'Ines', role: 'technician' as const };
export const { records } = simulateShop({ seed: 12, endsAt: NOW, count: 300 });
export const jsonLines = (some: readonly unknown[]) =>
	some.map((record) => JSON.stringify(record)).join('\n');

export async function smallShop(): Promise<Database> {
	const db = await freshDatabase();
	const { rejected } = await importLines(db, 'test', NOW, jsonLines(records));
	if (rejected.length > 0) throw new Error(`the simulated shop is refused: ${JSON.stringify(rejected[0])}`);
	const blank = { record: 'model', code: 'blank', label: 'Blank', connector: 'type-c-24' };
	await importLines(db, 'test', NOW, JSON.stringify(blank));
	const person = {
		signIn: 'ines',
		name: 'Ines',
		role: 'technician' as const,
		technician: 'ines',
		password: 'several long words'
	};
	await addUser(db, 'test', NOW, person);
	return db;
}

/** Takes a device in. @returns the ticket's number */
export async function takenIn(db: Database, model = 'pelagic-40'): Promise<string> {
	const body = takeInBody.parse({
		once: crypto.randomUUID(),
		customer: { name: 'Vida Oakum', kind: 'private' },
		model: { code: model },
		matters: 'device',
		promisedAt: null,
		signs: { 'no-charge': true },
		comebackOf: null
	});
	const answer = await takeIn(db, ines, NOW, body);
	if (!answer.ok) throw new Error(answer.refusal.message);
	return answer.number;
}

/** Makes a change of the ticket as it stands; throws where it is refused. */
export async function changed(db: Database, number: string, input: TicketChangeInput, now = NOW) {
	const version = (await findTicket(db, number))?.version ?? 0;
	const change = ticketChangeSchema.parse(input);
	const answer = await changeTicket(db, ines, now, number, { version, once: crypto.randomUUID(), change });
	if (!answer.ok || answer.repeated) throw new Error(JSON.stringify(answer));
	return answer;
}
