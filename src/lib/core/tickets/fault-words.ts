import { groupBy } from '../units/group-by';

/** What another fault was, in words, on one closed ticket. */
export interface SaidOfFault {
	words: string;
	number: string;
	model: string;
	closedAt: number;
}

/** The same words on several tickets: how often, on which models, and the latest of them. */
export interface FaultWords extends SaidOfFault {
	times: number;
	models: readonly string[];
}

/** Case, spaces and the full stop behind it make no other fault. */
const keyOf = (words: string) =>
	words.normalize('NFKC').toLowerCase().replace(/\s+/g, ' ').trim().replace(/\.+$/, '');

/**
 * Words of other faults, those that come back most often first: what is said three times may deserve a code of its own.
 * @param entries in any order
 */
export function faultWordsList(entries: readonly SaidOfFault[]): FaultWords[] {
	return [...groupBy(entries, ({ words }) => keyOf(words)).values()]
		.map((group) => {
			const latest = group.reduce((newest, each) => (each.closedAt > newest.closedAt ? each : newest));
			return { ...latest, times: group.length, models: [...new Set(group.map(({ model }) => model))].sort() };
		})
		.sort((a, b) => b.times - a.times || b.closedAt - a.closedAt || (a.number < b.number ? -1 : 1));
}
