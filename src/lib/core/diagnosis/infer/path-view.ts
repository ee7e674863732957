import { breaksOf, walkPath, type PathFinding, type PathNode } from '../../charging/power-path';
import { beforeRepair, type Stage } from '../../units/stage';
import type { Inference } from './odds';

/** What the panel of the charging path shows: its nodes, what was measured on this side of the repair, and where it breaks. */
export interface PathView {
	nodes: PathNode[];
	/** volts by node */
	measured: Record<string, number>;
	finding: PathFinding;
}

/**
 * The path with its readings of the latest stage, and where the odds have it broken: they know these readings. Once a repair
 * has worked they speak of what was wrong, and the readings after it stand alone.
 */
export function pathView(
	{
		path,
		attempts
	}: {
		path: readonly { node: string; volts: number; stage?: Stage }[];
		attempts: readonly { resolved: boolean; part?: boolean | undefined }[];
	},
	nodes: readonly PathNode[] | undefined,
	{ now, codes }: Pick<Inference, 'now' | 'codes'>
): PathView | null {
	if (!nodes || nodes.length === 0) return null;
	const late = attempts.some(({ part }) => !part);
	const measured = new Map(
		path.filter(({ stage }) => beforeRepair(stage) !== late).map(({ node, volts }) => [node, volts])
	);
	const isResolved = attempts.some(({ resolved }) => resolved);
	const sets = now.map(({ set, chance }) => ({ faults: set.map((fault) => codes[fault] as string), chance }));
	return {
		nodes: [...nodes],
		measured: Object.fromEntries(measured),
		finding: walkPath(nodes, measured, isResolved ? null : breaksOf(nodes, sets))
	};
}
