import type { ReturnTicket } from '$lib/core/returns/followed-jobs';
import { DAY_MS } from '$lib/core/units/instant';

/** Invented tickets as comebacks are told from them: what their tests begin with. */
export const day = (n: number) => n * DAY_MS;
export const returnTicket = (number: string, more: Partial<ReturnTicket> = {}): ReturnTicket => ({
	number,
	model: 'm',
	outcome: 'fixed',
	openedAt: day(0),
	closedAt: day(1),
	comebackOf: null,
	cause: null,
	operations: [],
	technicians: [],
	parts: [],
	lots: [],
	sources: [],
	methods: [],
	suppliers: [],
	month: null,
	...more
});
