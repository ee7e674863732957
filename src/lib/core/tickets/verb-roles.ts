import type { Role } from '../units/role';
import { ruleOf, VERBS, type TicketChange, type Verb } from './ticket-change';
import { STRIKABLE_LISTS, type StrikableList } from './ticket-entries';
import type { Ticket } from './ticket-record';

/** A change, what one does with it in words, and who may. */
interface Permission {
	change: string;
	says: string;
	roles: readonly Role[];
}
/** Every change; a verb whose roles depend on what it says comes with each of its cases. */
export const PERMISSIONS: readonly Permission[] = VERBS.flatMap((verb): Permission[] => {
	const { says, roles, rolesWhere } = ruleOf(verb);
	const verbRole = { change: verb, says, roles };
	return rolesWhere
		? [{ change: rolesWhere.words, says: rolesWhere.words, roles: rolesWhere.roles }, verbRole]
		: [verbRole];
});

const MADE_BY = new Map(
	STRIKABLE_LISTS.map((list) => [list, VERBS.find((verb) => ruleOf(verb).makes === list) as Verb])
);

export const mayChange = (role: Role, verb: Verb): boolean => ruleOf(verb).roles.includes(role);
/** Who may make an entry of a list may strike it out, and nobody else. */
export const mayStrike = (role: Role, list: StrikableList): boolean =>
	mayChange(role, 'withdraw') && mayChange(role, MADE_BY.get(list) as Verb);

/** Who may make this very change of this ticket. */
export function mayMake(role: Role, change: TicketChange, ticket: Pick<Ticket, 'struck'>): boolean {
	if (change.verb === 'withdraw') return mayStrike(role, change.list);
	const struck = change.verb === 'put-back' ? ticket.struck[change.index] : undefined;
	if (struck) return mayStrike(role, struck.list);
	const { rolesWhere } = ruleOf(change.verb);
	return rolesWhere?.when(change) ? rolesWhere.roles.includes(role) : mayChange(role, change.verb);
}

/** A refused change in words: what may not be done, and who can be asked. */
export const notYours = (role: Role, verb: Verb): string => {
	const { says, roles } = ruleOf(verb);
	return `you cannot ${says}; ask ${roles
		.filter((allowed) => allowed !== role)
		.map((allowed) => WHO[allowed])
		.join(' or ')}`;
};
const WHO: Record<Role, string> = {
	counter: 'the counter',
	manager: 'a manager',
	technician: 'a technician'
};
