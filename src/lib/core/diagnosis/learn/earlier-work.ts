/** What the shop itself did on this device before. */
export interface EarlierWork {
	operation: string;
	/** since then; not said: within a month */
	days?: number | undefined;
	/** the complaint was gone after it; so where nothing is said */
	resolved?: boolean | undefined;
}
