import { BENCH_ROLES } from '../units/role';
import { z } from 'zod';
import type { Catalog } from '../catalog/catalog';
import { judgeNode, NODE_WORDS } from '../charging/power-path';
import { codeSchema } from '../units/code';
import { NODE_VERDICTS, type NodeVerdict } from '../units/seen-codes';
import { stamp } from './entry-fields';
import { groupByMinute } from './group-by-minute';
import { instrument, instrumentName, stage, stageField } from './instrument-fields';
import { measurement, type Seen } from './measurement';

/** Volts at a node of the charging path. */
const entry = z.strictObject({
	stage,
	node: codeSchema,
	volts: z.number().min(-1000).max(1000),
	...instrument,
	...stamp
});

const nodesOf = ({ model, catalog }: Seen) =>
	new Map((catalog.models.get(model)?.path ?? []).map((node) => [node.node, node]));

/** The supply followed from the port to the battery, node by node. */
export const PATH_WALK = measurement({
	list: 'path',
	entry,
	most: 1000,
	step: 'plug',
	verb: 'probe-node',
	shape: {
		stage: stageField,
		node: codeSchema,
		volts: z.number().min(0).max(100),
		meter: instrumentName.optional()
	},
	roles: BENCH_ROLES,
	says: 'record a power path',
	refers: ({ node }, need, model) => need.node('node', model, node),
	entries: (reading) => [reading],
	moment: 'stage',
	questions: { 'path:NODE': NODE_VERDICTS },
	/** every node that was probed, as it was read last */
	answers(readings, seen) {
		const nodes = nodesOf(seen);
		const latest = new Map(readings.map(({ node, volts }) => [node, volts]));
		return [...latest].flatMap(([code, volts]) => {
			const node = nodes.get(code);
			return node ? { question: `path:${code}`, answer: judgeNode(volts, node) } : [];
		});
	},
	words: (question, answer, catalog) =>
		nodeWords(catalog, question.slice('path:'.length), answer as NodeVerdict),
	asks: {
		code: 'path',
		label: 'Walk the power path',
		question: 'path:',
		minutes: 7,
		needs: ['opened', 'plugged'],
		caution: 'The board is live: one slip of the probe shorts the supply to its neighbour.'
	},
	trail(readings, seen) {
		const nodes = nodesOf(seen);
		return groupByMinute(readings, 30).map((group) => {
			const words = group.map(({ node, volts }) => {
				const nodeInfo = nodes.get(node);
				const verdict = nodeInfo ? `, ${NODE_WORDS[judgeNode(volts, nodeInfo)]}` : '';
				return `${nodeInfo?.label ?? node} ${volts.toFixed(2)} V${verdict}`;
			});
			return { kind: 'measured', text: `Power path: ${words.join('; ')}.`, stamp: group[0] };
		});
	}
});

/** A node by its label on any model's path: shops name a point alike wherever they have it. */
function nodeWords({ models }: Pick<Catalog, 'models'>, code: string, verdict: NodeVerdict): string {
	for (const { path = [] } of models.values()) {
		const node = path.find((entry) => entry.node === code);
		if (node) return `${node.label}: ${NODE_WORDS[verdict]}`;
	}
	return `${code}: ${NODE_WORDS[verdict]}`;
}
