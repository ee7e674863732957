import type { TestNeed } from '../../catalog/kinds-of-finding';

/** What needs this is done inside the device. */
export const isInside = (needs: readonly TestNeed[]): boolean =>
	needs.includes('opened') || needs.includes('port-off');
