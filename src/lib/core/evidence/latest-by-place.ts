/** The state that was entered last for each place, in the order in which the places first came. */
export const latestByPlace = <State>(
	entries: readonly { place: string; state: State }[]
): Map<string, State> => new Map(entries.map(({ place, state }) => [place, state]));
