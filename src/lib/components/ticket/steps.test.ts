import { expect, it } from 'vitest';
import { openedTicket, type Ticket } from '$lib/core/tickets/ticket-record';
import { standsAt, stepsOf } from './steps';

const at = (ticket: Partial<Ticket>, passed: boolean | null = null) =>
	standsAt(
		stepsOf({ ...openedTicket('K-1', 0, 'm'), ...ticket }, [
			{
				code: 'g',
				label: 'G',
				when: 'before-sealing',
				minutes: 4,
				passed,
				shownBy: null,
				notApplicable: null,
				parts: [],
				undoneAt: 0
			}
		])
	);
const look = { stage: 'intake' as const, volts: 5, amps: 1 };
const test = { test: 't', outcome: 'x' };
const attempt = (resolved: boolean) => ({ operation: 'o', resolved });

it.each<[string, Partial<Ticket>, boolean | null, string]>([
	['nothing done yet', {}, null, 'look'],
	['looked', { inspection: [{ place: 'tongue', state: 'straight' }] }, null, 'plug'],
	['plugged in', { meter: [look] }, null, 'pins'],
	['tested, with pins left out', { meter: [look], observations: [test] }, null, 'repair'],
	['a repair that failed', { observations: [test], attempts: [attempt(false)] }, null, 'repair'],
	['repaired without a look before', { attempts: [attempt(true)] }, null, 'prove'],
	['proved', { attempts: [attempt(true)] }, true, 'close'],
	['closed', { closedAt: 5 }, null, 'close']
])('%s', (_, ticket, passed, step) => expect(at(ticket, passed)).toBe(step));
