import { z } from 'zod';
import type { Catalog } from '../../catalog/catalog';
import type { Needs } from '../../catalog/needs';
import { EARLIEST_INSTANT, LATEST_INSTANT, type Instant } from '../../units/instant';
import type { Role } from '../../units/role';
import type { Changed, ChangeStamp } from '../refusal';
import { remark, text } from '../../evidence/entry-fields';
import type { StrikableList } from '../ticket-entries';
import type { Moves, State } from '../states';
import type { Ticket } from '../ticket-record';

export interface ChangeContext {
	now: Instant;
	/** technician code or sign-in name of who does it */
	by: string;
	catalog: Catalog;
}

/** What a change does in the shop beside its ticket, in the same transaction; the server makes it and takes it back. */
export type Effect = 'known good' | 'provisional readings';

/** A button beside the words of where a ticket stands, in the states that this change leads on from. */
interface LifeButton<Shape extends z.ZodRawShape> {
	states: readonly State[];
	label: string;
	/** of several the one that is pressed most */
	leads?: true;
	/** what it says of the change; what is typed beside it may be added */
	body: z.input<z.ZodObject<Shape>>;
}

/** One change of a ticket: all that the program knows of it. Screens, server, roles page and tests are drawn from it. */
export interface VerbRule<Shape extends z.ZodRawShape> {
	/** what one does with it, in words: permissions name it so */
	says: string;
	/** its fields */
	shape: Shape;
	/** who may make it */
	roles: readonly Role[];
	/** where others may as well: the same verb told apart by what it says */
	rolesWhere?: { words: string; when: (change: Body<Shape>) => boolean; roles: readonly Role[] };
	/** whether its effect is shown on the field before the server has answered, as what is entered at the bench is */
	shown: 'at once' | 'when kept';
	/** how it moves the ticket on in its life, and where its button stands; null where it leaves it where it is */
	moves: (Moves & { button: readonly LifeButton<Shape>[] | 'of a panel' }) | null;
	/** the list whose entries it makes: who may make it may strike them out, and nobody else */
	makes?: StrikableList;
	/** of a closed ticket too */
	ofClosed?: true;
	/** what it names, to be there */
	refers?(change: Body<Shape>, need: Needs, ticket: Ticket): void;
	/** the ticket after it, or why not; the ticket given is left as it was */
	apply(ticket: Ticket, change: Body<Shape>, stamp: ChangeStamp, context: ChangeContext): Changed;
	/** what follows in the shop, in order */
	effects?: readonly Effect[];
	/** what it takes back of what followed from another */
	undoes?: readonly Effect[];
}

type Body<Shape extends z.ZodRawShape> = z.output<z.ZodObject<Shape>>;
export const verb = <Shape extends z.ZodRawShape>(rule: VerbRule<Shape>): VerbRule<Shape> => rule;

/** Fields that several changes have. */
export const textField = text.trim();
export const remarkField = remark;
export const instantField = z.int().min(EARLIEST_INSTANT).max(LATEST_INSTANT);
export const indexField = z.int().min(0).max(10_000);
export const minutesField = z.number().min(0).max(100_000);
export const priceField = z.int().min(0).max(9_999_999_999);

/** A ticket with entries put behind those of one of its lists. */
export const withEntries = <List extends StrikableList | 'gates' | 'dealings'>(
	ticket: Ticket,
	list: List,
	...entries: Ticket[List]
): Ticket => ({ ...ticket, [list]: [...ticket[list], ...entries] });
