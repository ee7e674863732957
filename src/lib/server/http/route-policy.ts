import { BENCH_ROLES, ROLES, type Role } from '$lib/core/units/role';

const KB = 1024;
const MB = 1024 * KB;
const MANAGER = ['manager'] as const;
const COUNTER = ['manager', 'counter'] as const;

/** Who may see a route, who may send something to it, and how much at most. */
export interface RoutePolicy {
	see: readonly Role[] | 'anybody';
	/** nobody sends anything where it is missing */
	send?: readonly Role[] | 'anybody';
	/** bytes of a body, counted as they come */
	most?: number;
}

const LOOK: RoutePolicy = { see: ROLES };
const CALL = { see: ROLES, send: ROLES, most: MB } as const;

/**
 * Every route of the application with its roles and limits. A route that is missing here answers nobody; a test walks the
 * routes and fails where one is.
 */
export const ROUTE_POLICY: Readonly<Record<string, RoutePolicy>> = {
	'/': { see: 'anybody' },
	'/health/live': { see: 'anybody' },
	'/health/ready': { see: 'anybody' },
	'/sign-in': { see: 'anybody', send: 'anybody', most: 8 * KB },
	'/sign-out': { see: 'anybody', send: 'anybody', most: 8 * KB },
	'/first-visit': { see: 'anybody', send: 'anybody', most: 8 * KB },
	'/(app)/account': { see: ROLES, send: ROLES, most: 8 * KB },
	'/(app)/floor': LOOK,
	'/(app)/floor/days': { see: ROLES, send: MANAGER, most: 8 * KB },
	'/calendar/[secret]': { see: 'anybody' },
	'/(app)/counter': LOOK,
	'/(app)/counter/customers': LOOK,
	'/(app)/counter/visits': LOOK,
	'/(app)/counter/take-in': { see: [], send: ROLES, most: 64 * KB },
	'/(app)/counter/word': { see: [], send: ROLES, most: 8 * KB },
	'/(app)/jump': LOOK,
	'/(app)/tickets': LOOK,
	'/(app)/tickets/[number]': LOOK,
	'/(app)/tickets/[number]/change': { see: [], send: ROLES, most: 256 * KB },
	'/(app)/tickets/[number]/passcode': { see: [], send: ROLES, most: 8 * KB },
	'/(app)/tickets/[number]/plan': LOOK,
	'/(app)/tickets/[number]/price': LOOK,
	'/(app)/tickets/[number]/reasons': LOOK,
	'/(app)/tickets/[number]/run': { see: BENCH_ROLES },
	'/(app)/tickets/[number]/photos': { see: [], send: ROLES, most: 16 * MB },
	'/(app)/tickets/[number]/photos/[hash]': LOOK,
	'/(app)/waits': LOOK,
	'/(app)/known-good': { see: ROLES, send: BENCH_ROLES, most: 64 * KB },
	'/(app)/known-good/expected': LOOK,
	'/(app)/instruments/[id]/stream': LOOK,
	'/(app)/shelf': { see: ROLES, send: BENCH_ROLES, most: 64 * KB },
	'/(app)/shelf/[list]': { see: MANAGER },
	'/(app)/shelf/kit': LOOK,
	'/(app)/devices/[serial]': LOOK,
	'/(app)/returns': { see: BENCH_ROLES, send: MANAGER, most: 8 * KB },
	'/(app)/returns/calls': { see: ROLES, send: ROLES, most: 8 * KB },
	'/(app)/returns/claims': { see: ROLES, send: MANAGER, most: 8 * KB },
	'/(app)/customers': { see: COUNTER, send: MANAGER, most: 8 * KB },
	'/(app)/customers/[id]': { see: COUNTER, send: COUNTER, most: 8 * KB },
	'/(app)/customers/[id]/export': { see: COUNTER },
	'/(app)/messages': { see: COUNTER, send: COUNTER, most: 8 * KB },
	'/mine/[number]/[seal]': { see: 'anybody', send: 'anybody', most: 8 * KB },
	'/mine/[number]/[seal]/[hash]': { see: 'anybody' },
	'/(app)/books/[table]': { see: MANAGER },
	'/(app)/books': { see: MANAGER, send: MANAGER, most: 8 * KB },
	'/(app)/practice': { see: BENCH_ROLES },
	'/(app)/workbook': LOOK,
	'/(app)/workbook/procedures': LOOK,
	'/(app)/workbook/procedures/[code]': { see: ROLES, send: MANAGER, most: 256 * KB },
	'/(app)/settings': { see: MANAGER, send: MANAGER, most: 64 * KB },
	'/(app)/settings/audit': { see: MANAGER },
	'/(app)/settings/catalog': { see: MANAGER, send: MANAGER, most: 256 * KB },
	'/(app)/settings/export': { see: MANAGER },
	'/(app)/settings/import': { see: MANAGER, send: MANAGER, most: 512 * MB },
	'/(app)/settings/pictures': { see: MANAGER, send: MANAGER, most: 2048 * MB },
	'/(app)/settings/people': { see: MANAGER, send: MANAGER, most: 64 * KB },
	'/(app)/settings/roles': { see: MANAGER },
	'/(app)/settings/starter': { see: MANAGER, send: MANAGER, most: 64 * KB },
	'/(app)/settings/boards': { see: MANAGER, send: MANAGER, most: 256 * KB },
	'/(app)/settings/boards/pictures': { see: [], send: MANAGER, most: 16 * MB },
	'/(app)/boards/[hash]': LOOK,
	'/(print)/plan': LOOK,
	'/(print)/procedures/[code]': LOOK,
	'/(print)/shelf/[what]/[code]': LOOK,
	'/(print)/tickets/[number]/print/[what]': LOOK,
	'/api/v1/openapi.json': { see: 'anybody' },
	'/api/v1/export': { see: MANAGER },
	'/api/v1/import': { see: [], send: MANAGER, most: 512 * MB },
	'/api/v1/tickets/[number]': LOOK,
	'/api/v1/odds': CALL,
	'/api/v1/quote': CALL,
	'/api/v1/shelf': LOOK,
	'/api/v1/comebacks': { see: MANAGER },
	'/api/v1/readings/compare': CALL,
	'/api/v1/current/judge': CALL,
	'/api/v1/schedule': { see: [], send: BENCH_ROLES, most: MB },
	'/api/v1/traces/interpret': { see: [], send: ROLES, most: 64 * MB }
};

/** A body up to here is read whole before anything looks at it; a larger one is counted while it is read. */
export const READ_WHOLE = MB;

/** Who may call a route with a method; null where the method sends something and nothing is taken there. */
export function rolesAt(policy: RoutePolicy, method: string): readonly Role[] | 'anybody' | null {
	return ['GET', 'HEAD', 'OPTIONS'].includes(method) ? policy.see : (policy.send ?? null);
}
