import type { Knex } from 'knex';
import type { CatalogKind, CatalogRecord } from '$lib/core/catalog/kinds';
import type { Channel, MessageKind } from '$lib/core/catalog/kinds-of-returns';
import type { Prediction } from '$lib/core/diagnosis/record/foretell';
import type { ReferenceOnWire } from '$lib/core/readings/reference';
import type { AcceptedJob } from '$lib/core/stock/reserved';
import type { Customer, Ticket, TicketRecord, Waiting } from '$lib/core/tickets/ticket-record';
import type { Role } from '$lib/core/units/role';
import type { StoredJson } from './json';

export type MessageState = 'waiting' | 'sending' | 'sent' | 'failed' | 'unsure' | 'dropped';

/**
 * Every table with its columns as the driver hands them over: moments as dates, flags as booleans, DECIMAL as text. A test
 * compares the names, and what may be null, with the migrated schema. What reads a column of a row that is not here, or writes one, does
 * not compile; columns that a query names in texts are compared by a test.
 */
interface Rows {
	api_tokens: {
		id: number;
		label: string;
		role: Role;
		token_hash: string;
		created_at: Date;
		revoked_at: Date | null;
		owner_id: number | null;
		expires_at: Date | null;
		used_at: Date | null;
	};
	attempts: {
		ticket_id: number;
		n: number;
		operation: string;
		technician: string | null;
		minutes: number | null;
		hourly_minor: number | null;
		resolved: boolean;
		at: Date | null;
		part: boolean;
	};
	audit: {
		id: number;
		at: Date;
		actor: string;
		subject: string;
		subject_key: string;
		version: number | null;
		verb: string;
		detail: StoredJson<Record<string, unknown>>;
	};
	calendar_links: {
		id: number;
		technician: string;
		secret_hash: Buffer;
		created_at: Date;
		created_by: string;
		ends_at: Date | null;
	};
	catalog: {
		id: number;
		kind: CatalogKind;
		code: string;
		record: StoredJson<CatalogRecord>;
		version: number;
	};
	caught_messages: {
		id: number;
		channel: Channel;
		sender: string;
		recipient: string;
		message_id: string;
		subject: string | null;
		body: string;
		at: Date;
	};
	counters: {
		name: string;
		value: number;
	};
	customers: {
		id: number;
		name: string;
		kind: Customer['kind'];
		phone: string | null;
		email: string | null;
		digest: string;
		language: string | null;
		hears_by: NonNullable<Customer['hears_by']> | null;
		erased_at: Date | null;
	};
	learnt: {
		piece: number;
		pieces: number;
		version: string;
		body: Buffer;
	};
	messages: {
		id: number;
		ticket_id: number;
		about: MessageKind;
		channel: Channel;
		once: string;
		recipient: string;
		subject: string | null;
		body: string;
		state: MessageState;
		tries: number;
		next_at: Date | null;
		claimed_by: string | null;
		claimed_at: Date | null;
		problem: string | null;
		created_at: Date;
		sent_at: Date | null;
		language: string | null;
	};
	part_uses: {
		ticket_id: number;
		n: number;
		sku: string;
		quantity: number;
		unit_minor: number | null;
		at: Date | null;
		lot: string | null;
		used_at: Date | null;
	};
	payments: {
		ticket_id: number;
		n: number;
		at: Date;
		amount_minor: number;
		tax_minor: number;
		paid_by: string | null;
		settles: boolean;
	};
	photo_uploads: {
		photo: string;
		ticket_id: number;
		at: Date;
	};
	predictions: {
		ticket_id: number;
		closed_at: Date;
		digest: string;
		prediction: StoredJson<Prediction>;
	};
	rate_limits: {
		key: string;
		points: number;
		expire: number | null;
	};
	reference_readings: {
		id: number;
		model: string;
		digest: string;
		occurrence: number;
		record: StoredJson<ReferenceOnWire>;
	};
	sessions: {
		id: number;
		user_id: number;
		token_hash: string;
		previous_hash: string | null;
		created_at: Date;
		rotated_at: Date;
		seen_at: Date;
	};
	shown_views: {
		name: string;
		as_of: Date;
		view: string;
		build: string;
	};
	submissions: {
		once: string;
		at: Date;
		answer: string;
	};
	tickets: {
		id: number;
		number: string;
		customer_id: number | null;
		model: string;
		serial: string | null;
		opened_at: Date;
		closed_at: Date | null;
		promised_at: Date | null;
		outcome: Ticket['outcome'];
		assigned_to: string | null;
		waiting_for: Waiting['for'] | null;
		comeback_of: string | null;
		paid_minor: number | null;
		parts_minor: number;
		labour_minor: number;
		minutes: string;
		record: StoredJson<TicketRecord>;
		passcode: Buffer | null;
		version: number;
		history_seq: number;
		quoted_minor: number | null;
		accepted: boolean | null;
		tax_minor: number;
		owed_minor: number;
		due_at: Date | null;
		collected_at: Date | null;
		agreed: StoredJson<AcceptedJob> | null;
		uses_seq: number;
		wait_until: Date | null;
		promised_chance: number | null;
		cause: string | null;
		methods: StoredJson<string[]> | null;
		asked_at: Date | null;
		held: boolean | null;
		harmed: boolean;
		offered_warranty: number | null;
		page_ended: boolean;
		running_by: string | null;
	};
	users: {
		id: number;
		sign_in: string;
		name: string;
		role: Role;
		technician: string | null;
		password_hash: string;
		active: boolean;
		created_at: Date;
		version: number;
		must_change: boolean;
		password_until: Date | null;
	};
}
/** A sum, or a count, of a column: DECIMAL comes as text. */
export type Sum = number | string;
type TableName = keyof Rows;
export type Row<Name extends TableName> = Rows[Name];

/** What may be written to a column: JSON as its text, a flag, or an expression of the database. */
type Written<Value> =
	| Knex.Raw
	| (null extends Value ? null : never)
	| (NonNullable<Value> extends StoredJson<unknown> ? string | Buffer : NonNullable<Value>);
type WrittenRow<Name extends TableName> = { [Column in keyof Rows[Name]]?: Written<Rows[Name][Column]> };

type TypedTables = {
	[Name in TableName]: Knex.CompositeTableType<Rows[Name], WrittenRow<Name>, WrittenRow<Name>>;
};
declare module 'knex/types/tables' {
	// where Knex looks its tables up by name; only an interface can be added to
	// eslint-disable-next-line @typescript-eslint/no-empty-object-type
	interface Tables extends TypedTables {}
}
