import type { Instant } from '../units/instant';
import type { Ticket } from './ticket-record';

/** Why a change was not made: what was seen, what is allowed, what to do. Nothing has changed. */
export interface Refusal {
	field: string;
	message: string;
}

export type Changed = Ticket | Refusal;
/** When a change was made and by whom: technician code or sign-in name. */
export type ChangeStamp = { at: Instant; by: string };

export const refuse = (field: string, message: string): Refusal => ({ field, message });
export const isRefusal = (changed: Changed): changed is Refusal => !('number' in changed);
