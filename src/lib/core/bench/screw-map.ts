/** Which screws, plugs and shields of a model are out, and what is amiss before it is sealed. */

export interface ScrewPlace {
	place: string;
	label: string;
	length_mm?: number | undefined;
}
interface ScrewMoved {
	place: string;
	did: 'out' | 'in' | 'missing' | 'left-over';
}

/** Places that are out now, in the order in which they go back: the last one out first. */
export function screwsOut(moves: readonly ScrewMoved[]): string[] {
	let removed: string[] = [];
	for (const { place, did: action } of moves) {
		if (action === 'left-over') continue;
		removed = removed.filter((placed) => placed !== place);
		if (action === 'out') removed.push(place);
	}
	return removed.reverse();
}

/** The place that comes out next: the first of the map that was neither taken out nor missing. */
export function nextOut(moves: readonly ScrewMoved[], map: readonly ScrewPlace[]): string | null {
	const moved = new Set(moves.map(({ place }) => place));
	return map.find(({ place }) => !moved.has(place))?.place ?? null;
}

const nameOf = (map: readonly ScrewPlace[], code: string) => {
	const screw = map.find(({ place }) => place === code);
	if (!screw) return code;
	return screw.length_mm === undefined ? screw.label : `${screw.label}, ${screw.length_mm} mm`;
};

/**
 * What stands in the way of sealing, in words: what is still out, what was never there, what is left over. A long screw in a short
 * hole breaks the board; hence the length beside each.
 */
export function screwsAmiss(moves: readonly ScrewMoved[], map: readonly ScrewPlace[]): string[] {
	const last = new Map<string, ScrewMoved['did']>();
	for (const { place, did: action } of moves) last.set(place, action);
	const amiss: string[] = [];
	for (const [place, action] of last) {
		if (action === 'out') amiss.push(`not back: ${nameOf(map, place)}`);
		if (action === 'missing') amiss.push(`missing: ${nameOf(map, place)}`);
		if (action === 'left-over') amiss.push(`left over: one like ${nameOf(map, place)}`);
	}
	return amiss;
}
