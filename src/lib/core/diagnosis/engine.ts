import type { Catalog } from '../catalog/catalog';
import { fit, type Fitted } from './learn/fit';
import type { Learned } from './learn/learn';

/** All that the odds and plans rest on: what the shop can see and do, what its closed tickets taught, and what that comes to. */
export interface Engine {
	readonly catalog: Catalog;
	readonly learned: Learned;
	/** worked out of the two when it is first asked for, and again after they have changed */
	readonly fitted: Fitted;
}

/**
 * @example inferOdds(engineOf(catalog, learn(lessons)), 'tern-6', features).odds
 */
export const engineOf = (catalog: Catalog, learned: Learned): Engine => ({
	catalog,
	learned,
	get fitted() {
		return fit(catalog, learned);
	}
});
