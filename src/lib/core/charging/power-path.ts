import { entropyBits } from '../statistics/entropy';
import { NODE_VERDICTS, type NodeVerdict } from '../units/seen-codes';

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

interface PathBreak {
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
export const SHOWS: Record<NodeVerdict, { before: number; behind: number }> = {
	there: { before: 0.955, behind: 0.02 },
	high: { before: 0.015, behind: 0.01 },
	low: { before: 0.01, behind: 0.15 },
	lost: { before: 0.02, behind: 0.82 }
};
/** The path of a device that does not charge is whole this often. A choice. */
const WHOLE = 0.25;
const SETTLED = 0.95;
/** A probe that tells less than this many bits is not worth the minute. A choice. */
const LEAST_BITS = 0.1;

/**
 * Where along a path the supply is lost, by Bayes over one break at most, and the node to probe next: the one whose
 * reading takes most from the uncertainty (expected entropy, Shannon 1948), the cheaper one of equals.
 * @param givenBelief chances of a break before each node, and last of a whole path, from all that is known, these readings among it;
 *   without it the readings alone speak, over breaks that are all as likely
 */
export function walkPath(
	nodes: readonly PathNode[],
	measured: ReadonlyMap<string, number>,
	givenBelief: readonly number[] | null = null
): PathFinding {
	const belief = givenBelief ?? beliefOf(nodes, measured);
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

function beliefOf(nodes: readonly PathNode[], measured: ReadonlyMap<string, number>): readonly number[] {
	let belief = [...nodes.map(() => (1 - WHOLE) / nodes.length), WHOLE];
	nodes.forEach((node, at) => {
		const volts = measured.get(node.node);
		if (volts !== undefined) belief = update(belief, at, judgeNode(volts, node));
	});
	return belief;
}

/**
 * Where a path is broken, as the odds have it: each set of faults breaks it at the first stretch that one of them is named for.
 * @param sets what may be wrong, as fault codes, with chances that sum to 1
 * @returns chances of a break before each node, and last of a whole path
 * @example breaksOf(nodes, [{ faults: ['input-fuse'], chance: 0.9 }, { faults: ['battery-worn'], chance: 0.1 }])
 */
export function breaksOf(
	nodes: readonly PathNode[],
	sets: Iterable<{ faults: readonly string[]; chance: number }>
): number[] {
	const belief = new Array<number>(nodes.length + 1).fill(0);
	for (const { faults, chance } of sets) {
		const at = nodes.findIndex((node) => node.faults?.some((fault) => faults.includes(fault)));
		const k = at < 0 ? nodes.length : at;
		belief[k] = (belief[k] as number) + chance;
	}
	return belief;
}

/** The break at `k` lies before node k: that node and those after it are behind it. Index n: no break. */
function update(belief: readonly number[], at: number, seen: NodeVerdict): number[] {
	const posterior = belief.map((chance, k) => chance * SHOWS[seen][k <= at ? 'behind' : 'before']);
	const sum = posterior.reduce((total, chance) => total + chance, 0);
	return posterior.map((chance) => chance / sum);
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
		const likelihood = NODE_VERDICTS.reduce((sum, seen) => {
			const chance = belief.reduce((p, b, k) => p + b * SHOWS[seen][k <= at ? 'behind' : 'before'], 0);
			return sum + chance * entropyBits(update(belief, at, seen));
		}, 0);
		return [{ node: node.node, bits: now - likelihood, minutes: node.minutes ?? 1 }];
	});
	options.sort((a, b) => (Math.abs(a.bits - b.bits) > 1e-9 ? b.bits - a.bits : a.minutes - b.minutes));
	return options[0] && options[0].bits >= LEAST_BITS ? options[0] : null;
}
