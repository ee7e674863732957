import { error } from '@sveltejs/kit';
import type { Role } from '$lib/core/units/role';
import type { Actor } from '../tickets/actor';
import type { User } from '../identity/users';

/** The signed-in user, of one of the roles; anyone else is refused. Called by every load and action. */
export function requireUser(locals: App.Locals, roles?: readonly Role[]): User {
	if (!locals.user) error(401, 'Your session has ended. Sign in again; what you wrote stays here.');
	if (roles && !roles.includes(locals.user.role)) {
		error(403, `This is for the ${roles.join(' or ')}. Ask the manager for it.`);
	}
	return locals.user;
}

/** Who asks, and a signal that says that nobody waits for the answer any more. */
export interface Asker {
	who: string;
	gone?: AbortSignal | undefined;
}

export const askerOf = ({ user, bearer, gone: signal }: App.Locals): Asker => ({
	who: user?.signIn ?? bearer?.name ?? '',
	gone: signal
});

export const actorOf = (user: User): Actor => ({
	by: user.technician ?? user.signIn,
	name: user.name,
	role: user.role
});
