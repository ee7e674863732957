// The engine's odds and plans on invented shops whose truth is known, against the best that could be said of them:
// npm run bench:engine [seeds] [sizes]; writes its table into docs/engine.md with --write.
import { readFileSync, writeFileSync } from 'node:fs';
import { buildCatalog, type Catalog } from '../src/lib/core/catalog/catalog';
import { learn } from '../src/lib/core/diagnosis/learn/learn';
import {
	baseMarginals,
	deviceLesson,
	drawDevice,
	makeWorld,
	ODD_KINDS,
	WORLD_KINDS,
	worldCatalog,
	type Device,
	type World
} from '$worlds/engine-world';
import { worldBeliefs } from '$worlds/world-beliefs';
import { forgetModelsAnswers, inventedShop } from '$worlds/invented-shop';
import { knowingPlanner, learnedPlanner, playJob, type Choose } from '$worlds/played-jobs';
import { measuredRegret, measuredShop } from '$worlds/measured-world';
import { scoreWorld } from '$worlds/world-scores';
import { meanInterval } from '../src/lib/core/statistics/mean-interval';
import { seededRandom } from '../src/lib/core/units/random';

const words = process.argv.slice(2).filter((word) => !word.startsWith('-'));
const SEEDS = Number(words[0] ?? 3);
const SIZES = (words[1] ?? '300,1500,6000').split(',').map(Number);
const HELD = 800;
const JOBS = 80;

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
/** Mean over worlds with its 95 % t interval. */
function spread(values: readonly number[], digits = 3): string {
	const { mean: m, high } = meanInterval(values);
	return `${m.toFixed(digits)} ± ${(high - m).toFixed(digits)}`;
}

const LOSS_MINOR = 12_000;

/** Mean cost of carrying jobs to the end by some rule; the devices and their luck are the same for each rule. */
const costOf = (world: World, devices: readonly Device[], choose: Choose) =>
	mean(devices.map((device, i) => playJob(world, device, choose, LOSS_MINOR, i + 1).costMinor));

/** The checklist of a shop that knows its trade: repairs by how often they help for their cost, each twice at most. */
function checklist(world: World): Choose {
	const rate = world.operations.map(({ fixes, success, minutes }) => {
		const helps = mean(
			world.models.map((_, m) => fixes.reduce((sum, f) => sum + (baseMarginals(world, m)[f] ?? 0), 0))
		);
		return (helps * success) / minutes;
	});
	const order = world.operations.map((_, i) => i).sort((a, b) => (rate[b] as number) - (rate[a] as number));
	return (_: Device, tried: readonly number[]) => {
		const goes = (i: number) => tried.filter((other) => other === i).length;
		const next = order.find((i) => goes(i) === 0) ?? order.find((i) => goes(i) < 2);
		return next === undefined ? null : { operation: next };
	};
}

type Row = Record<string, string[]>;
const table: Row = {};
const put = (row: string, text: string) => (table[row] ??= []).push(text);

const worlds = WORLD_KINDS.flatMap((kind, k) =>
	Array.from({ length: SEEDS }, (_, i) => {
		const seed = 1000 * (i + 1) + 17 * k;
		return { random: seededRandom(seed), world: makeWorld(seededRandom(seed), kind) };
	})
);
const prepared = worlds.map(({ random, world }) => {
	const most = Math.max(...SIZES);
	const history = Array.from({ length: most }, () => drawDevice(random, world));
	const wrong = Array.from({ length: most }, () => drawDevice(random, world, 0.03));
	const held = Array.from({ length: HELD }, () => drawDevice(random, world));
	const jobs = held.filter(({ faults }) => faults.length > 0).slice(0, JOBS);
	return { world, catalog: buildCatalog(worldCatalog(world)), history, wrong, held, jobs };
});
const learnFrom = (world: World, catalog: Catalog, devices: readonly Device[]) =>
	learn(
		devices.map((device) => deviceLesson(world, device)),
		catalog
	);

/** the planner's own mean cost, by size and shop: held against two others below */
const ownCosts = new Map<number, number[]>();
for (const size of SIZES) {
	const scores = prepared.map(({ world, catalog, history, held }) =>
		scoreWorld(world, catalog, learnFrom(world, catalog, history.slice(0, size)), held)
	);
	put('regret', spread(scores.map(({ regret }) => regret)));
	put('top-1 below the optimum’s', spread(scores.map(({ top }) => top)));
	put(
		'calibration error, all',
		spread(
			scores.map(({ ece }) => ece),
			4
		)
	);
	put('calibration error, 5 % or more', spread(scores.map(({ eceLoud }) => eceLoud)));
	put(
		'exact odds inside the 80 % interval',
		spread(
			scores.map(({ covered }) => covered),
			2
		)
	);
	const wrong = prepared.map(({ world, catalog, wrong, held }) =>
		scoreWorld(world, catalog, learnFrom(world, catalog, wrong.slice(0, size)), held)
	);
	put('regret, 3 % wrong confirmations', spread(wrong.map(({ regret }) => regret)));
	const ratios = prepared.map(({ world, catalog, history, jobs }) => {
		const own = costOf(
			world,
			jobs,
			learnedPlanner(world, catalog, learnFrom(world, catalog, history.slice(0, size)), LOSS_MINOR)
		);
		ownCosts.set(size, [...(ownCosts.get(size) ?? []), own]);
		return own / costOf(world, jobs, checklist(world));
	});
	put('planner’s cost over the checklist’s', spread(ratios));
	console.error(`${size} done`);
}

const knowing = prepared.map(({ world, jobs }) => costOf(world, jobs, knowingPlanner(world, LOSS_MINOR)));
for (const size of SIZES) {
	const ratios = (ownCosts.get(size) ?? []).map((own, i) => own / (knowing[i] as number));
	put('planner’s cost over one that knows the exact odds', spread(ratios));
}

/** Regret with starting beliefs, by tickets. @param wrong share of them drawn at random @param stated share of the pairs */
const started = (wrong: number, stated: number) =>
	[0, 50, 300].map((size) => {
		const regrets = prepared.map(({ world, history, held }, i) => {
			const beliefs = worldBeliefs(seededRandom(31 + i), world, wrong, stated);
			const catalog = buildCatalog([...worldCatalog(world), ...beliefs]);
			return scoreWorld(world, catalog, learnFrom(world, catalog, history.slice(0, size)), held).regret;
		});
		return spread(regrets);
	});
const beliefRows = [
	['half of the pairs stated, a quarter of them wrong', started(0.25, 0.5)],
	['all pairs stated, a quarter of them wrong', started(0.25, 1)],
	['all pairs stated, a tenth of them wrong', started(0.1, 1)]
] as const;
console.error('starting beliefs done');

/** Shops that probe a path, look into the port, and test again after a repair that failed. */
const measuredRows = (['fresh', 'failed'] as const).map((part) =>
	SIZES.map((size) =>
		spread(
			WORLD_KINDS.flatMap((kind, k) =>
				Array.from({ length: SEEDS }, (_, i) => {
					const shop = measuredShop(seededRandom(500 * (i + 1) + 13 * k), kind, size, HELD / 2);
					return measuredRegret(shop.measured, shop.catalog, shop.learned, shop[part]);
				})
			)
		)
	)
);
console.error('measured shops done');

/** Worlds that break an assumption; the same tickets again without their days and without what came together. */
const oddRows = ODD_KINDS.map((kind) => {
	const cells = SIZES.map((size) => {
		const runs = Array.from({ length: Math.max(2, SEEDS) }, (_, i) => {
			const { world, catalog, lessons, held } = inventedShop(kind, size, 77 * (i + 1), HELD);
			const blind = learn(
				lessons.map((lesson) => ({ ...lesson, closedAt: 0 })),
				catalog
			);
			blind.pairs.clear();
			forgetModelsAnswers(blind);
			return [learn(lessons), blind].map((learned) => scoreWorld(world, catalog, learned, held).regret) as [
				number,
				number
			];
		});
		return runs;
	});
	const row = (of: 0 | 1) => cells.map((runs) => spread(runs.map((run) => run[of])));
	return { kind, own: row(0), blind: row(1) };
});

const lines = [
	`${prepared.length} invented shops (${WORLD_KINDS.join(', ')}; ${SEEDS} of each), ${HELD} held-out devices each, mean and 95 % interval over the shops:`,
	'',
	`| figure | ${SIZES.map((size) => `${size} tickets`).join(' | ')} |`,
	`| --- |${' --- |'.repeat(SIZES.length)}`,
	...Object.entries(table).map(([row, cells]) => `| ${row} | ${cells.join(' | ')} |`),
	'',
	'Regret with starting beliefs, partly wrong (drawn at random):',
	'',
	'| beliefs | no ticket | 50 tickets | 300 tickets |',
	'| --- | --- | --- | --- |',
	...beliefRows.map(([name, cells]) => `| ${name} | ${cells.join(' | ')} |`),
	'',
	'Regret of shops that measure (`tests/worlds/measured-world.ts`): devices whose path is probed and whose port is looked at, and such devices after a repair that failed, tested again; the odds are then of what is left.',
	'',
	`| devices | ${SIZES.map((size) => `${size} tickets`).join(' | ')} |`,
	`| --- |${' --- |'.repeat(SIZES.length)}`,
	`| path probed, port looked at | ${measuredRows[0]?.join(' | ')} |`,
	`| after a repair that failed | ${measuredRows[1]?.join(' | ')} |`,
	'',
	'Regret on worlds that break an assumption: faults that come together (coupled), a bad batch of three models in the last ' +
		'quarter (drifting), models that answer in their own way (deviating), tests that repeat one another (repeating; not ' +
		'modelled). “Blind”: the same tickets without their days, what came together, and which model answered what.',
	'',
	`| world | ${SIZES.map((size) => `${size} tickets`).join(' | ')} |`,
	`| --- |${' --- |'.repeat(SIZES.length)}`,
	...oddRows.flatMap(({ kind, own, blind }) => [
		`| ${kind} | ${own.join(' | ')} |`,
		`| ${kind}, blind | ${blind.join(' | ')} |`
	])
];
console.log(lines.join('\n'));
if (process.argv.includes('--write')) {
	const file = new URL('../docs/engine.md', import.meta.url);
	const page = readFileSync(file, 'utf8');
	const [start, end] = ['<!-- engine -->', '<!-- /engine -->'];
	const [from, to] = [page.indexOf(start), page.indexOf(end)];
	if (from < 0 || to < 0) throw new Error(`docs/engine.md lacks ${start} … ${end}`);
	writeFileSync(file, `${page.slice(0, from + start.length)}\n\n${lines.join('\n')}\n\n${page.slice(to)}`);
}
