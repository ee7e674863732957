import type { Role } from '$lib/core/units/role';

/** Who does something to a ticket. */
export interface Actor {
	/** technician code where the user is one, else the sign-in name */
	by: string;
	name: string;
	role: Role;
}
