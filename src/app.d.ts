import type { Language } from '$lib/core/words/customer-language';
import type { IncomingMessage } from 'node:http';
import type { Unavailable } from '$lib/server/http/unavailable';
import type { User } from '$lib/server/identity/users';
import type { Bearer } from '$lib/server/identity/api-tokens';

declare global {
	namespace App {
		interface Locals {
			user: User | null;
			bearer: Bearer | null;
			/** daylight or lamp */
			theme: 'daylight' | 'lamp';
			/** what the page is written in */
			language: Language;
			/** the session's token was changed with this request */
			newToken: string | null;
			/** why nothing could be answered now, where that is not the request's fault */
			unavailable: Unavailable | null;
			/** aborted when who asked has hung up */
			gone: AbortSignal;
		}
		interface Platform {
			req?: IncomingMessage & { gone?: AbortSignal };
		}
		interface Error {
			message: string;
			id?: string;
		}
	}
}

export {};
