import type { Instant } from '../units/instant';

/** One line of what happened to a device. */
export interface TrailEntry {
	at: Instant;
	by: string | null;
	kind:
		| 'taken-in'
		| 'seen'
		| 'measured'
		| 'tested'
		| 'quoted'
		| 'tried'
		| 'proved'
		| 'noted'
		| 'corrected'
		| 'waited'
		| 'closed';
	text: string;
	/** money in hundredths that belongs to the text; worded with the shop's currency by who shows it */
	amountMinor?: number;
	/** struck out: its place among the struck entries, when, by whom */
	struck?: { index: number; at: Instant | null; by: string | null };
}
