import { entropyBits } from '../statistics/entropy';

/** A point of the charging path that a probe can reach, in order from the supply. */
export interface PathNode {
	node: string;
	label: string;
	/** what it reads when all is well */
	volts: { low: number; high: number };
	through?: string | undefined;
	faults?: readonly string[] | undefined;
	minutes?: number | undefined;
}

export type NodeVerdict = 'there' | 'low' | 'lost' | 'high';

/** Under half of what it should read the supply counts as lost; between that and its range it sags. A choice. */
export function judgeNode(volts: number, { volts: range }: PathNode): NodeVerdict {
	if (volts > range.high) return 'high';
	if (volts >= range.low) return 'there';
	return volts >= range.low / 2 ? 'low' : 'lost';
}

export const NODE_WORDS: Record<NodeVerdict, string> = {
	there: 'the supply is there',
	low: 'it sags',
	lost: 'the supply is lost',
	high: 'higher than it should be'
};

export interface PathBreak {
	/** last node that has the supply; null where it is lost before the first */
	from: string | null;
	to: string;
	through: string | null;
	chance: number;
}

export interface PathFinding {
	/** most likely first */
	breaks: PathBreak[];
	/** the path is whole */
	whole: number;
	/** the node to probe next: the one that tells most; null when the question is settled */
	next: { node: string; bits: number; minutes: number } | null;
}

/** Chance of what a probe shows before and behind the break: it slips now and then. Choices. */
const SHOWS: Record<NodeVerdict, { before: number; behind: number }> = {
	there: { before: 0.955, behind: 0.02 },
	high: { before: 0.015, behind: 0.01 },
	low: { before: 0.01, behind: 0.15 },
	lost: { before: 0.02, behind: 0.82 }
};
const OUTCOMES = Object.keys(SHOWS) as NodeVerdict[];
/** The path of a device that does not charge is whole this often. A choice. */
const WHOLE = 0.25;
const SETTLED = 0.95;
/** A probe that tells less than this many bits is not worth the minute. A choice. */
const LEAST_BITS = 0.1;

/**
 * Where along a path the supply is lost, by Bayes over one break at most, and the node to probe next: the one whose
 * reading takes most from the uncertainty (expected entropy, Shannon 1948), the cheaper one of equals.
 * @param weightOf how likely a break before each node is, beside the others; all alike without it
 */
export function walkPath(
	nodes: readonly PathNode[],
	measured: ReadonlyMap<string, number>,
	weightOf: (node: PathNode) => number = () => 1
): PathFinding {
	const weights = nodes.map((node) => Math.max(1e-3, weightOf(node)));
	const total = weights.reduce((sum, weight) => sum + weight, 0) || 1;
	let belief = [...weights.map((weight) => ((1 - WHOLE) * weight) / total), WHOLE];
	nodes.forEach((node, at) => {
		const volts = measured.get(node.node);
		if (volts !== undefined) belief = update(belief, at, judgeNode(volts, node));
	});
	const breaks = nodes
		.map((node, at) => ({
			from: nodes[at - 1]?.node ?? null,
			to: node.node,
			through: node.through ?? null,
			chance: belief[at] as number
		}))
		.sort((a, b) => b.chance - a.chance);
	return { breaks, whole: belief[nodes.length] as number, next: nextNode(nodes, measured, belief) };
}

/** The break at `k` lies before node k: that node and those after it are behind it. Index n: no break. */
function update(belief: readonly number[], at: number, seen: NodeVerdict): number[] {
	const after = belief.map((chance, k) => chance * SHOWS[seen][k <= at ? 'behind' : 'before']);
	const sum = after.reduce((total, chance) => total + chance, 0);
	return after.map((chance) => chance / sum);
}

function nextNode(
	nodes: readonly PathNode[],
	measured: ReadonlyMap<string, number>,
	belief: readonly number[]
) {
	if (Math.max(...belief) >= SETTLED) return null;
	const now = entropyBits(belief);
	const options = nodes.flatMap((node, at) => {
		if (measured.has(node.node)) return [];
		const left = OUTCOMES.reduce((sum, seen) => {
			const chance = belief.reduce((p, b, k) => p + b * SHOWS[seen][k <= at ? 'behind' : 'before'], 0);
			return sum + chance * entropyBits(update(belief, at, seen));
		}, 0);
		return [{ node: node.node, bits: now - left, minutes: node.minutes ?? 1 }];
	});
	options.sort((a, b) => (Math.abs(a.bits - b.bits) > 1e-9 ? b.bits - a.bits : a.minutes - b.minutes));
	return options[0] && options[0].bits >= LEAST_BITS ? options[0] : null;
}
