import type { User } from '$lib/server/identity/users';
import type { Bearer } from '$lib/server/identity/api-tokens';

declare global {
	namespace App {
		interface Locals {
			user: User | null;
			bearer: Bearer | null;
			/** daylight or lamp */
			theme: 'daylight' | 'lamp';
			/** the session's token was changed with this request */
			newToken: string | null;
			/** the database could not be reached while this request was answered */
			away: boolean;
		}
		interface Error {
			message: string;
			id?: string;
		}
	}
}

export {};
